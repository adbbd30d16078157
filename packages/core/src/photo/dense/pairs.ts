import { median } from '../../numeric/statistics';
import { seenIn } from '../points/seen';
import { type OrientedPicture } from '../points/picture';

/** Two pictures to be matched, by their index, with what lies before both. */
export interface PairChoice {
  first: number;
  second: number;
  /** Points that both show. */
  shared: number[];
}

/** Pairs of a picture: more tell little that is new. */
const PARTNERS = 4;
/** A base shorter than this share of the depth tells no depth, a longer one shows things from too different sides. */
const RATIOS: readonly [number, number] = [0.08, 0.7];
/** A longer base is better up to this. */
const GOOD_RATIO = 0.35;
/** Points that two pictures must share, and share of those of the one with fewer. */
const LEAST_SHARED = 12;
const LEAST_OVERLAP = 0.3;
/** Views that differ by more do not look alike, cosine. */
const LEAST_ALIKE = 0.85;

/** Which pictures to match with which. @param points places in the axes of the block, three numbers each. */
export function choosePairs(pictures: readonly OrientedPicture[], points: Float64Array): PairChoice[] {
  const n = points.length / 3;
  const sees = pictures.map((p) => {
    const out = new Uint8Array(n);
    const depths: number[] = [];
    const r = p.rotation;
    for (let k = 0; k < n; k++) {
      const at = points.subarray(3 * k, 3 * k + 3);
      const seen = seenIn(p, at);
      if (!seen || seen.uPx < 0 || seen.vPx < 0 || seen.uPx > p.camera.widthPx - 1 || seen.vPx > p.camera.heightPx - 1)
        continue;
      out[k] = 1;
      depths.push(r[2] * (at[0] - p.centreM[0]) + r[5] * (at[1] - p.centreM[1]) + r[8] * (at[2] - p.centreM[2]));
    }
    return { points: out, count: depths.length, depthM: depths.length ? median(depths) : Number.NaN };
  });
  const chosen = new Map<string, PairChoice>();
  pictures.forEach((p, a) => {
    const fit: Array<PairChoice & { worth: number }> = [];
    pictures.forEach((q, b) => {
      if (a === b || Math.min(sees[a].count, sees[b].count) < LEAST_SHARED) return;
      const base = Math.hypot(...p.centreM.map((v, k) => v - q.centreM[k]));
      const ratio = (2 * base) / (sees[a].depthM + sees[b].depthM);
      const alike = p.rotation[2] * q.rotation[2] + p.rotation[5] * q.rotation[5] + p.rotation[8] * q.rotation[8];
      if (!(ratio > RATIOS[0] && ratio < RATIOS[1] && alike > LEAST_ALIKE)) return;
      const shared: number[] = [];
      for (let k = 0; k < n; k++) if (sees[a].points[k] && sees[b].points[k]) shared.push(k);
      const share = shared.length / Math.min(sees[a].count, sees[b].count);
      if (shared.length < LEAST_SHARED || share < LEAST_OVERLAP) return;
      fit.push({
        first: Math.min(a, b),
        second: Math.max(a, b),
        shared,
        worth: share * Math.min(ratio, GOOD_RATIO),
      });
    });
    fit.sort((x, y) => y.worth - x.worth);
    for (const { worth: _worth, ...pair } of fit.slice(0, PARTNERS)) chosen.set(`${pair.first} ${pair.second}`, pair);
  });
  return [...chosen.values()].sort((x, y) => x.first - y.first || x.second - y.second);
}
