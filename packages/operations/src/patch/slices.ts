import { type PatchSlice } from '@longheron/contract/kinds/patch';
import { median } from '@longheron/core/numeric';
import { type PatchPair, type Soundings } from '@longheron/core/sonar';
import { type SonarLine } from '../shared/sonar';

/** Half the thickness of a slice and its half length, metres; soundings of each line in it at most. */
const HALF_THICK_M = 0.75;
const HALF_M = 20;
const MOST = 600;
const PAIRS = 6;
/** Places along the overlap from which the one that differs most is taken. */
const TRIES = 9;

/** Slices through the pairs that share most: one across and one along the first line, where lines differ most. */
export function slicesOf(
  lines: readonly SonarLine[],
  pairs: readonly PatchPair[],
  before: readonly Soundings[],
  after: readonly Soundings[],
): PatchSlice[] {
  return pairs.slice(0, PAIRS).flatMap((p) =>
    (['across', 'along'] as const).flatMap((way) => {
      const bearing = lines[p.a].headingRad + (way === 'across' ? Math.PI / 2 : 0);
      const slice = worstSlice(before[p.a], before[p.b], bearing);
      if (!slice) return [];
      const { e, n, off } = slice;
      const cut = (s: Soundings) => cutOut(s, e, n, bearing);
      const [first, second] = [cut(after[p.a]), cut(after[p.b])];
      return [
        {
          a: lines[p.a].id,
          b: lines[p.b].id,
          easting_m: e,
          northing_m: n,
          bearing_rad: bearing,
          half_m: HALF_M,
          way,
          off_before_m: off,
          off_after_m: difference(first, second),
          before: { first: cut(before[p.a]), second: cut(before[p.b]) },
          after: { first, second },
        },
      ];
    }),
  );
}

function worstSlice(a: Soundings, b: Soundings, bearing: number): { e: number; n: number; off: number } | undefined {
  const shared = sharedPlaces(a, b);
  let best: { e: number; n: number; off: number } | undefined;
  for (let k = 0; k < TRIES && shared.length; k++) {
    const [e, n] = shared[Math.floor(((k + 0.5) * shared.length) / TRIES)];
    const off = difference(cutOut(a, e, n, bearing), cutOut(b, e, n, bearing));
    if (Number.isFinite(off) && (!best || off > best.off)) best = { e, n, off };
  }
  return best;
}

/** Squares of two metres in which both have soundings, in the order of the first line's pings. */
function sharedPlaces(a: Soundings, b: Soundings): Array<[number, number]> {
  const key = (s: Soundings, i: number) => `${Math.floor(s.eastingM[i] / 2)} ${Math.floor(s.northingM[i] / 2)}`;
  const of = new Set<string>();
  for (let i = 0; i < b.count; i += 3) of.add(key(b, i));
  const seen = new Set<string>();
  const out: Array<[number, number]> = [];
  for (let i = 0; i < a.count; i += 3) {
    const at = key(a, i);
    if (!of.has(at) || seen.has(at)) continue;
    seen.add(at);
    out.push([a.eastingM[i], a.northingM[i]]);
  }
  return out;
}

/** Distances and heights in a slice, thinned evenly. */
function cutOut(s: Soundings, e: number, n: number, bearing: number): number[] {
  const [sin, cos] = [Math.sin(bearing), Math.cos(bearing)];
  const out: number[] = [];
  for (let i = 0; i < s.count; i++) {
    const [de, dn] = [s.eastingM[i] - e, s.northingM[i] - n];
    if (Math.abs(de * cos - dn * sin) > HALF_THICK_M) continue;
    const d = de * sin + dn * cos;
    if (Math.abs(d) <= HALF_M) out.push(d, s.heightM[i]);
  }
  const every = Math.ceil(out.length / 2 / MOST);
  return every > 1 ? out.filter((_, k) => (k >> 1) % every === 0) : out;
}

/** Root mean square of differences of the middle heights in steps of a metre. */
function difference(first: readonly number[], second: readonly number[]): number {
  const middle = (of: readonly number[]) => {
    const bins = new Map<number, number[]>();
    for (let k = 0; k < of.length; k += 2) {
      const at = Math.floor(of[k]);
      const bin = bins.get(at);
      if (bin) bin.push(of[k + 1]);
      else bins.set(at, [of[k + 1]]);
    }
    return new Map([...bins].map(([at, v]) => [at, median(v)]));
  };
  const [a, b] = [middle(first), middle(second)];
  const both = [...a].flatMap(([at, h]) => (b.has(at) ? [(h - b.get(at)!) ** 2] : []));
  return both.length > 2 ? Math.sqrt(both.reduce((s, v) => s + v, 0) / both.length) : Number.NaN;
}
