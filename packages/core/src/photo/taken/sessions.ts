import { type TakenPhoto } from '.';

/** Between two photographs of one session passes no more than this, seconds. */
const LONGEST_PAUSE_S = 900;

/** Photographs that were taken one after the other: a flight, a walk along set-ups. */
export interface PhotoSession<T extends SessionPhoto = SessionPhoto> {
  photos: T[];
  /** Camera's clock, seconds; null where no photograph says it. */
  firstS: number | null;
  lastS: number | null;
}

export type SessionPhoto = Pick<TakenPhoto, 'name' | 'takenS' | 'camera' | 'serial'>;

/**
 * Sessions of photographs of one set, in order of their times: where more than a quarter of an hour passes another begins,
 * and where one body takes the place of another; bodies that take turns are carried together. Photographs without a time go
 * with the one before them by name.
 */
export function sessionsOf<T extends SessionPhoto>(list: readonly T[]): Array<PhotoSession<T>> {
  const timed = list.filter((p) => p.takenS !== null).sort((a, b) => a.takenS! - b.takenS!);
  const out: Array<PhotoSession<T>> = [];
  const of = new Map<T, PhotoSession<T>>();
  for (const stretch of stretchesOf(timed))
    for (const photos of byBody(stretch)) {
      const session = { photos: [...photos], firstS: photos[0].takenS, lastS: photos[photos.length - 1].takenS };
      out.push(session);
      for (const p of photos) of.set(p, session);
    }
  let before = out[0];
  for (const p of [...list].sort((a, b) => (a.name < b.name ? -1 : 1))) {
    const own = of.get(p);
    if (own) {
      before = own;
      continue;
    }
    if (!before) out.push((before = { photos: [], firstS: null, lastS: null }));
    before.photos.push(p);
  }
  return out;
}

/** Parts of a list in order of times between which a long pause lies. */
function stretchesOf<T extends SessionPhoto>(timed: readonly T[]): T[][] {
  const out: T[][] = [];
  timed.forEach((p, k) => {
    if (k === 0 || p.takenS! - timed[k - 1].takenS! > LONGEST_PAUSE_S) out.push([]);
    out[out.length - 1].push(p);
  });
  return out;
}

/** Parts by body where each takes the place of the one before; all as one where bodies take turns. */
function byBody<T extends SessionPhoto>(stretch: readonly T[]): T[][] {
  const bodyOf = (p: T) => `${p.camera}\n${p.serial}`;
  const out: T[][] = [];
  stretch.forEach((p, k) => {
    if (k === 0 || bodyOf(p) !== bodyOf(stretch[k - 1])) out.push([]);
    out[out.length - 1].push(p);
  });
  return out.length === new Set(stretch.map(bodyOf)).size ? out : [[...stretch]];
}
