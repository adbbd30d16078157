import { readFile } from 'node:fs/promises';
import { WEEK_S } from '@longheron/core/time';
import { readEvents } from '@longheron/formats/events';
import { readOccupations } from '@longheron/formats/occupations';
import { readPhotoList } from '@longheron/formats/photos';
import { median } from '@longheron/core/numeric';
import { type FileFacts } from './facts';

/** Facts of an event list. */
export async function inspectEvents(out: FileFacts, path: string, name: string): Promise<void> {
  const events = readEvents(await readFile(path), name);
  const times = events.map((e) => e.week * WEEK_S + e.sow).sort((a, b) => a - b);
  out.count = events.length;
  if (times.length === 0) return;
  [out.startGps, out.endGps] = [times[0], times[times.length - 1]];
  const steps = times.slice(1).map((t, k) => t - times[k]);
  if (steps.length) out.details.push(['Usual step', `${median(steps).toFixed(2)} s`]);
  out.details.push(['With a label', String(events.filter((e) => e.label).length)]);
}

/** Facts of a list of occupations. */
export async function inspectOccupations(out: FileFacts, path: string, name: string): Promise<void> {
  const list = readOccupations(await readFile(path), name);
  out.count = list.length;
  if (list.length === 0) return;
  out.startGps = Math.min(...list.map((o) => o.week * WEEK_S + o.startSow));
  out.endGps = Math.max(...list.map((o) => o.week * WEEK_S + o.endSow));
  out.details.push(['Marks', list.map((o) => o.name).join(', ')]);
  out.details.push(['Shortest', `${Math.min(...list.map((o) => o.endSow - o.startSow)).toFixed(0)} s`]);
}

/** Facts of a list of photographs; the camera's clock is not GPS time, so they have no place in the time lanes. */
export async function inspectPhotos(out: FileFacts, path: string, name: string): Promise<void> {
  const photos = readPhotoList(await readFile(path), name);
  out.count = photos.length;
  const timed = photos.filter((p) => Number.isFinite(p.takenS));
  const text = (s: number) => new Date(1000 * s).toISOString().replace('T', ' ').slice(0, 19);
  out.details.push(['With a time', `${timed.length} of ${photos.length}`]);
  if (timed.length)
    out.details.push([
      'Camera’s clock',
      `${text(Math.min(...timed.map((p) => p.takenS)))} to ${text(Math.max(...timed.map((p) => p.takenS)))}`,
    ]);
}
