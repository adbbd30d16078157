import { readFile, readdir, stat } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { Problem } from '@longheron/core/shared';
import { type Photo } from '@longheron/core/trajectory';
import { readExif } from '@longheron/formats/exif';
import { readPhotoList } from '@longheron/formats/photos';
import { parseSystem } from '@longheron/formats/crs';
import { positionEvents, writeFootprints } from '@longheron/operations/events';
import { type Command } from './command';

/** A list of photographs, or JPEG files and folders of them. */
async function photosOf(paths: string[]): Promise<{ list: Photo[]; file: string }> {
  const file = paths.map((p) => basename(p)).join(', ');
  const list: Photo[] = [];
  for (const path of paths) {
    const found = await stat(path).catch(() => undefined);
    if (!found)
      throw new Problem('There is no such file.', { code: 'file-open', file: path, remedy: 'Check the path.' });
    if (!found.isDirectory() && !/\.jpe?g$/i.test(path)) {
      list.push(...readPhotoList(await readFile(path), basename(path)));
      continue;
    }
    const names = found.isDirectory() ? (await readdir(path)).filter((n) => /\.jpe?g$/i.test(n)).sort() : [''];
    for (const name of names)
      list.push({
        name: name || basename(path),
        takenS: readExif(await readFile(name ? join(path, name) : path))?.takenS ?? Number.NaN,
      });
  }
  return { list, file };
}

const FARTHEST_M = 1000;

function overlapWords(f: Record<string, unknown>): string {
  const percent = (v: unknown) => (typeof v === 'number' ? `${(100 * v).toFixed(0)} %` : 'none');
  const pixel = typeof f.ground_sample_m === 'number' ? `, a pixel is ${(100 * f.ground_sample_m).toFixed(1)} cm` : '';
  return `${f.footprints as number} footprints on ground at ${f.ground_m as number} m: ${percent(f.overlap_next_median)} shared with the next, ${percent(f.overlap_side_median)} with another line${pixel}.`;
}

export const events: Command = {
  options: {
    ...{ trajectory: 'string', events: 'string', mount: 'string', sensor: 'string', out: 'string' },
    ...{ 'trajectory-crs': 'string', 'leave-out-strays': 'boolean', photos: 'string' },
    ...{ ground: 'string', farthest: 'string', crs: 'string', footprints: 'string' },
  },
  async run(o, watch) {
    const inputs = [o.must('trajectory'), o.must('events')];
    const mount = o.text('mount');
    const photos = o.text('photos') === undefined ? undefined : await photosOf(o.list('photos'));
    o.must('out');
    const groundM = o.number('ground', -500, 9000);
    const system = groundM === undefined ? undefined : parseSystem(o.must('crs'));
    const made = await positionEvents(
      {
        trajectoryPath: inputs[0],
        eventsPath: inputs[1],
        mountingPath: mount,
        sensor: o.text('sensor'),
        leaveOutStrays: o.flag('leave-out-strays'),
        photos,
        ground: system && { system, groundM: groundM!, farthestM: o.number('farthest', 1, 1e5) ?? FARTHEST_M },
        trajectoryCrs: o.text('trajectory-crs'),
        outPath: o.output('out', mount ? [...inputs, mount] : inputs)!,
      },
      watch,
    );
    const { report, written, ground } = made;
    const areas = o.output('footprints', inputs);
    if (areas && ground) await writeFootprints(areas, written, ground, system!);
    const arm = report.lever_arm_applied ? 'its lever arm applied' : 'no lever arm applied';
    const paired =
      report.photos === undefined
        ? []
        : [
            `${report.photos_paired} of ${report.photos} photographs paired with an event, by their ${report.photos_paired_by}.`,
          ];
    const lines = [
      `${report.positions} of ${report.events} events, at ${report.point}, ${arm}.`,
      ...paired,
      ...(ground ? [overlapWords(ground.figures)] : []),
    ];
    return { report, lines };
  },
};
