import { apply3 } from '../../../numeric/matrix3';
import { type Pose } from '../model';
import { type ScanPatches } from './patches';
import { type Ties } from './ties';

/** Ways that surfaces face, unit vectors of the frame, with how many ties each has. */
export interface Faces {
  ways: Array<readonly [number, number, number]>;
  counts: number[];
  /** By set of ties, the way of each tie; −1 for a way that too few share. */
  of: Int32Array[];
}

/** Normals that differ by less face one way. */
const SAME_COS = Math.cos((6 * Math.PI) / 180);
/** Ways with fewer ties, or a smaller share of all, are chance. */
const FEWEST = 6;
const LEAST_SHARE = 0.004;

/**
 * Sorts ties by the way their planes face. A plane's many pieces scatter about its normal, and what they scatter by would
 * hold scans where nothing does: in judging how surely a pose is known, each counts with the mean of its way.
 */
export function facesOf(all: readonly Ties[], patches: readonly ScanPatches[], poses: readonly Pose[]): Faces {
  const sums: number[][] = [];
  const units: number[][] = [];
  const pass = (assign: boolean): Int32Array[] =>
    all.map((ties) => {
      const out = new Int32Array(ties.count).fill(-1);
      const { normal } = patches[ties.to];
      const { rotation } = poses[ties.to];
      for (let t = 0; t < ties.count; t++) {
        if (ties.weight[t] === 0) continue;
        const b = 3 * ties.b[t];
        const n = apply3(rotation, [normal[b], normal[b + 1], normal[b + 2]]);
        let best = -1;
        let most = SAME_COS;
        units.forEach((u, k) => {
          const cos = Math.abs(u[0] * n[0] + u[1] * n[1] + u[2] * n[2]);
          if (cos > most) [most, best] = [cos, k];
        });
        if (best < 0 && !assign) {
          best = units.length;
          units.push(n);
          sums.push([0, 0, 0, 0]);
        }
        out[t] = best;
        if (best < 0) continue;
        const u = units[best];
        const sign = u[0] * n[0] + u[1] * n[1] + u[2] * n[2] < 0 ? -1 : 1;
        for (let k = 0; k < 3; k++) sums[best][k] += sign * n[k];
        sums[best][3]++;
      }
      return out;
    });
  const settle = () =>
    sums.forEach((s, k) => {
      const length = Math.hypot(s[0], s[1], s[2]);
      if (length > 0) units[k] = [s[0] / length, s[1] / length, s[2] / length];
    });
  pass(false);
  settle();
  for (const s of sums) s.fill(0);
  const of = pass(true);
  settle();
  const total = sums.reduce((s, v) => s + v[3], 0);
  const counts = sums.map((s) => s[3]);
  const enough = counts.map((c) => c >= FEWEST && c >= LEAST_SHARE * total);
  for (const list of of) for (let t = 0; t < list.length; t++) if (list[t] >= 0 && !enough[list[t]]) list[t] = -1;
  return { ways: units.map((u) => [u[0], u[1], u[2]] as const), counts, of };
}
