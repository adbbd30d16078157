import { median } from '../numeric/statistics';
import { type AidingPosition } from './settings';

/** Velocities at the start come from positions within this, seconds, or failing that within the second. */
const START_S = [3, 12];
const SLOWEST_PAIR_S = 2.5;
/** Spans of positions give way to contradicting ones that last so much longer. */
const MUCH_LONGER = 1.5;

/**
 * Velocity that the first positions agree on, by the median of their pairs: a jump between two kinds is none.
 * @returns Earth-centred metres a second, and its deviation on each axis.
 */
export function startVelocity(aiding: AidingPosition[]): { mps: number[]; sdMps: number } {
  const t0 = aiding[0].sow;
  for (const within of START_S) {
    const first = aiding.filter((a) => a.sow - t0 <= within);
    const pairs: number[][] = [];
    let noise = Infinity;
    for (let i = 0; i < first.length; i++) {
      const j = first.findIndex((b, k) => k > i && b.sow >= first[i].sow + Math.min(0.9, within / 3));
      if (j < 0 || first[j].sow - first[i].sow > SLOWEST_PAIR_S || first[j].solution !== first[i].solution) continue;
      const dt = first[j].sow - first[i].sow;
      pairs.push([0, 1, 2].map((k) => (first[j].xyzM[k] - first[i].xyzM[k]) / dt));
      const [p, q] = [first[i].covariance, first[j].covariance];
      noise = Math.min(noise, Math.sqrt(p[0] + p[4] + p[8] + q[0] + q[4] + q[8]) / dt);
    }
    if (pairs.length === 0) continue;
    const mps = [0, 1, 2].map((k) => median(pairs.map((v) => v[k])));
    const spread = median(pairs.map((v) => Math.hypot(v[0] - mps[0], v[1] - mps[1], v[2] - mps[2])));
    return { mps, sdMps: 1 + 2 * spread + noise + (within > START_S[0] ? within : 0) };
  }
  return { mps: [0, 0, 0], sdMps: 30 };
}

/**
 * Where the filter had to turn to positions that contradict those before, the longer of both spans is believed.
 * @param turns times from which on others were believed.
 */
export function withoutMinority(positions: AidingPosition[], turns: number[]): AidingPosition[] {
  if (turns.length === 0) return positions;
  const bounds = [-Infinity, ...turns, Infinity];
  const seconds = bounds.slice(1).map((to, k) => {
    const within = positions.filter((p) => p.sow >= bounds[k] && p.sow < to && p.solution !== 'code');
    return within.length < 2 ? 0 : within[within.length - 1].sow - within[0].sow;
  });
  // a span gives way to a neighbour that lasts much longer
  const gives = seconds.map((s, k) => Math.max(seconds[k - 1] ?? 0, seconds[k + 1] ?? 0) > MUCH_LONGER * s);
  return positions.filter((p) => {
    const k = bounds.findIndex((to, i) => i > 0 && p.sow < to) - 1;
    return !gives[k];
  });
}
