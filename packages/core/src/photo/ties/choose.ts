import { type Track } from './tracks';

/** Cells of a picture, and how many points each is to have. */
const COLUMNS = 6;
const ROWS = 5;
const EACH = 10;

/** A picture as far as points are spread over it. */
export interface Spread {
  widthPx: number;
  heightPx: number;
  uPx: ArrayLike<number>;
  vPx: ArrayLike<number>;
}

/**
 * Tracks that tie pictures well: those over most pictures first, until every part of every picture has its share.
 * @returns indices of tracks.
 */
export function chooseTracks(tracks: readonly Track[], pictures: readonly Spread[]): number[] {
  const filled = pictures.map(() => new Int32Array(COLUMNS * ROWS));
  const cellOf = (image: number, feature: number) => {
    const p = pictures[image];
    const c = Math.min(COLUMNS - 1, Math.max(0, Math.floor((p.uPx[feature] / p.widthPx) * COLUMNS)));
    const r = Math.min(ROWS - 1, Math.max(0, Math.floor((p.vPx[feature] / p.heightPx) * ROWS)));
    return r * COLUMNS + c;
  };
  const order = tracks.map((_, i) => i).sort((a, b) => tracks[b].images.length - tracks[a].images.length || a - b);
  const out: number[] = [];
  for (const t of order) {
    const { images, features } = tracks[t];
    const cells = images.map((i, k) => cellOf(i, features[k]));
    if (!images.some((i, k) => filled[i][cells[k]] < EACH)) continue;
    images.forEach((i, k) => filled[i][cells[k]]++);
    out.push(t);
  }
  return out;
}
