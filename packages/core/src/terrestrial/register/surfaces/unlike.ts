import { type Pose } from '../model';
import { type ScanPatches } from './patches';
import { rangesOf, seenPast } from './seen';
import { agreement, type Ties } from './ties';

/** Of pieces with anything near them, the share that must agree for two scans to fit. */
const LEAST_AGREEING = 0.3;
/** With fewer pieces near each other that do not agree, scans see one thing from two sides: it says nothing. */
const ENOUGH_NEAR = 80;
/** Of pieces where the other scan sees anything, the shares that it may see past: of all, and of those that face one way. */
const MOST_PAST = 0.085;
const MOST_PAST_OF_A_WAY = 0.35;

/**
 * Pairs of scans that cannot both lie as they do: too few pieces agree, or one sees past what the other shows. Where such
 * a pair overlaps much, others that overlap less cannot join its two sides either.
 * @param all sets of ties, two for each pair. @returns pairs by the numbers of their scans.
 */
export function unlikePairs(
  all: readonly Ties[],
  patches: readonly ScanPatches[],
  chosen: readonly Int32Array[],
  poses: readonly Pose[],
): Array<[number, number]> {
  const ranges = patches.map((p) => (p.facing ? rangesOf(p) : undefined));
  const past = (a: number, b: number): boolean => {
    if (!ranges[b]) return false;
    const share = seenPast(patches[a], chosen[a], poses[a], poses[b], ranges[b]);
    return share.all > MOST_PAST || share.ofAWay > MOST_PAST_OF_A_WAY;
  };
  const pairs: Array<{ from: number; to: number; near: number; alike: boolean }> = [];
  for (let k = 0; k + 1 < all.length; k += 2) {
    const [a, b] = [agreement(all[k]), agreement(all[k + 1])];
    const { from, to } = all[k];
    const agrees = Math.max(a.agree / a.near, b.agree / b.near) >= LEAST_AGREEING;
    if (!agrees && Math.min(a.near, b.near) < ENOUGH_NEAR) continue;
    pairs.push({ from, to, near: a.near + b.near, alike: agrees && !past(from, to) && !past(to, from) });
  }
  pairs.sort((p, q) => q.near - p.near);
  // from much to little overlap: sides that were told apart stay so
  const side = patches.map((_, k) => k);
  const apart: Array<[number, number]> = [];
  const out: Array<[number, number]> = [];
  for (const { from, to, alike } of pairs) {
    const [s, t] = [side[from], side[to]];
    const kept = s === t || !apart.some(([a, b]) => (a === s && b === t) || (a === t && b === s));
    if (!alike || !kept) out.push([from, to]);
    if (s === t) continue;
    if (!alike) apart.push([s, t]);
    else if (kept) {
      for (let k = 0; k < side.length; k++) if (side[k] === t) side[k] = s;
      for (const p of apart) for (const e of [0, 1] as const) if (p[e] === t) p[e] = s;
    }
  }
  return out;
}
