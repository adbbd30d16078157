import { type BlockSession } from '@longheron/contract/kinds/block';
import { placeResidual, sessionsOf } from '@longheron/core/photo';
import { Problem } from '@longheron/core/shared';
import { type ExifFacts } from '@longheron/formats/exif';
import { takenOf, type PhotoFile } from '@longheron/formats/photo-set';
import { imageKey } from '@longheron/formats/picks';
import { gridStep, type OpenedSets } from '../shared/photographs';
import { finite } from '../shared/words';
import { type Outcome } from './texts';

/** A session of photographs that were brought together for a block. */
export interface Session {
  /** From 1 on, over all sets, in order of sets and times. */
  number: number;
  name: string;
  photos: PhotoFile[];
  firstS: number | null;
  lastS: number | null;
}

/** Sessions of sets of photographs; those of a set that has several carry its name and their number in it. */
export function sessionsOfSets(
  { photos, set, names }: OpenedSets,
  exif: ReadonlyMap<PhotoFile, ExifFacts | undefined>,
): Session[] {
  const out: Session[] = [];
  names.forEach((name, k) => {
    const own = photos.filter((_, i) => set[i] === k).map((photo) => ({ photo, ...takenOf(photo, exif.get(photo)) }));
    const found = sessionsOf(own);
    const plain = name.replace(/\.zip$/i, '');
    found.forEach((s, i) =>
      out.push({
        number: out.length + 1,
        name: found.length > 1 ? `${plain}, ${i + 1}` : plain,
        photos: s.photos.map((p) => p.photo),
        firstS: s.firstS,
        lastS: s.lastS,
      }),
    );
  });
  return out;
}

/** Those that a setting takes: `all`, or numbers between commas. @throws Problem that lists which there are. */
export function chosenOf(all: readonly Session[], text: string): Session[] {
  if (text.trim() === 'all') return [...all];
  const numbers = text.split(',').map((w) => Number(w.trim()));
  const unknown = numbers.find((n) => !all.some((s) => s.number === n));
  if (unknown === undefined) return all.filter((s) => numbers.includes(s.number));
  throw new Problem(`There is no session ${unknown}.`, {
    code: 'block-sessions',
    place: 'sessions',
    remedy: all.length
      ? `There are ${all.map((s) => `${s.number} (${s.name}, ${s.photos.length} photographs)`).join(', ')}.`
      : 'Without photographs there are no sessions: take all.',
  });
}

/** Of each photograph, by the key of its name: its session, and which of it this was, from 0 on. */
export const placesIn = (sessions: readonly Session[]): Map<string, { number: number; name: string; order: number }> =>
  new Map(
    sessions.flatMap(({ number, name, photos }) =>
      photos.map((p, order) => [imageKey(p.name), { number, name, order }] as const),
    ),
  );

/** What became of each session, and how it hangs together with the others. */
export function sessionFigures(sessions: readonly Session[], { block, a, axes }: Outcome): BlockSession[] {
  const of = new Map(sessions.flatMap((s, k) => s.photos.map((p) => [imageKey(p.name), k] as const)));
  const sessionOf = block.images.map((i) => of.get(imageKey(i.name)) ?? -1);
  const out = sessions.map((s): BlockSession => ({
    number: s.number,
    name: s.name,
    photographs: s.photos.length,
    oriented: 0,
    cameras: [],
    first_s: s.firstS,
    last_s: s.lastS,
    rays: 0,
    rms_px: null,
    places_rms_m: null,
    joined: [],
  }));
  const squares = new Float64Array(sessions.length);
  const seenBy: Array<Set<number>> = block.points.map(() => new Set());
  for (let r = 0; r < block.rays.count; r++) {
    const k = sessionOf[block.rays.image[r]];
    if (!a.alive[r] || k < 0) continue;
    out[k].rays++;
    squares[k] += a.residualPx[2 * r] ** 2 + a.residualPx[2 * r + 1] ** 2;
    seenBy[block.rays.point[r]].add(k);
  }
  const off = new Float64Array(3);
  const places = sessions.map(() => ({ count: 0, sums: [0, 0, 0] }));
  block.images.forEach((image, i) => {
    const k = sessionOf[i];
    if (k < 0) return;
    const own = out[k];
    const camera = block.cameras[image.camera].name;
    if (!own.cameras.includes(camera)) own.cameras.push(camera);
    if (!a.oriented[i]) return;
    own.oriented++;
    if (!image.given || !axes) return;
    placeResidual(block, a.state, i, off);
    places[k].count++;
    gridStep(axes, off).forEach((v, j) => (places[k].sums[j] += v * v));
  });
  const shared = sessions.map(() => new Int32Array(sessions.length));
  for (const list of seenBy) for (const p of list) for (const q of list) if (p !== q) shared[p][q]++;
  out.forEach((s, k) => {
    s.rms_px = finite(Math.sqrt(squares[k] / (2 * s.rays)));
    const { count, sums } = places[k];
    s.places_rms_m = count
      ? [Math.sqrt(sums[0] / count), Math.sqrt(sums[1] / count), Math.sqrt(sums[2] / count)]
      : null;
    s.joined = sessions.flatMap((t, j) => (j === k ? [] : [{ with: t.number, points: shared[k][j] }]));
  });
  return out;
}

/** Sessions that no point joins to the first one, over others or at once. */
export function apartOf(sessions: readonly BlockSession[]): BlockSession[] {
  const reached = new Set(sessions.slice(0, 1).map((s) => s.number));
  for (let grown = true; grown;) {
    grown = false;
    for (const s of sessions)
      if (!reached.has(s.number) && s.joined.some((j) => j.points > 0 && reached.has(j.with))) {
        reached.add(s.number);
        grown = true;
      }
  }
  return sessions.filter((s) => !reached.has(s.number));
}
