import { type Preview } from '../../mapData';
import { SOLUTIONS, type Sky } from '../sky';

/** A stretch whose stated deviations are beyond the tolerance, and what held there. */
export interface WeakStretch {
  from: number;
  to: number;
  lengthM: number;
  /** Largest deviation of plan or height in it, metres. */
  worstM: number;
  why: string;
}

/** Bins of a preview within a span: first, and one after the last. */
export function binsOf(p: Preview, span: [number, number]): [number, number] {
  let from = p.time.findIndex((t) => t >= span[0]);
  if (from < 0) from = p.time.length;
  let to = from;
  while (to < p.time.length && p.time[to] <= span[1]) to++;
  return [from, to];
}

/** Largest stated deviation in a bin, plan or height, metres. */
export const worstOf = (p: Preview, k: number) => Math.max(p.worstSdM[k], p.columns['SD down']?.max[k] ?? 0);

/** Way from a bin to the next, metres. */
export function stepM(p: Preview, k: number): number {
  if (k + 1 >= p.time.length) return 0;
  return Math.hypot(p.eastingM[k + 1] - p.eastingM[k], p.northingM[k + 1] - p.northingM[k]);
}

/** Length of path by precision: up to each limit, and beyond the last. */
export function lengthsByBand(p: Preview, limitsM: number[], span: [number, number]): number[] {
  const out = new Array<number>(limitsM.length + 1).fill(0);
  const [from, to] = binsOf(p, span);
  for (let k = from; k < to; k++) {
    const at = limitsM.findIndex((l) => worstOf(p, k) <= l);
    out[at < 0 ? limitsM.length : at] += stepM(p, k);
  }
  return out;
}

/** Stretches beyond the tolerance in time order; neighbours less than a second apart are one. */
export function weakStretches(p: Preview, sky: Sky | null, toleranceM: number, span: [number, number]): WeakStretch[] {
  const out: WeakStretch[] = [];
  const [from, to] = binsOf(p, span);
  for (let k = from; k < to; k++) {
    const worst = worstOf(p, k);
    if (worst <= toleranceM) continue;
    const last = out[out.length - 1];
    const step = (p.time[k + 1] ?? p.time[k]) - p.time[k];
    if (last && p.time[k] - last.to < Math.max(1, 1.5 * step)) {
      last.to = p.time[k];
      last.lengthM += stepM(p, k);
      last.worstM = Math.max(last.worstM, worst);
    } else out.push({ from: p.time[k], to: p.time[k], lengthM: stepM(p, k), worstM: worst, why: '' });
  }
  for (const s of out) s.why = reason(p, sky, s);
  return out;
}

function reason(p: Preview, sky: Sky | null, s: WeakStretch): string {
  const kinds = new Map<number, number>();
  for (const x of sky?.solution ?? []) {
    const shared = Math.min(x.to, s.to) - Math.max(x.from, s.from);
    if (shared >= 0 && x.kind !== 1) kinds.set(x.kind, (kinds.get(x.kind) ?? 0) + shared);
  }
  const words = [...kinds].sort((a, b) => b[1] - a[1]).map(([k]) => SOLUTIONS[k]?.word ?? 'not stated');
  const [a, b] = binsOf(p, [s.from, s.to]);
  const seen = p.columns.Satellites?.min.slice(a, b) ?? [];
  const fewest = seen.length ? Math.min(...seen) : undefined;
  if (fewest !== undefined && fewest > 0 && fewest < 7) words.push(`down to ${fewest} satellites`);
  return words.join(', ') || 'fixed, but weak';
}
