import { apply3, type Vector3 } from '../../numeric/matrix3';
import {
  type LeftOut,
  type PairResidual,
  type PairSurfaces,
  type PlacedScan,
  type Pose,
  type Registered,
} from './model';
import { placed, type Rows, type Work } from './rows';
import { agreement, type ScanPatches, type Ties } from './surfaces';
import { pairKey, poseCovariance, surenessOf, weakestOf, type Sureness } from './weakness';

/** Residuals with their tests (Baarda 1968), and what they say of the deviations that went in. */
export interface Judged {
  tests: LeftOut[];
  residuals: Registered['residuals'];
  sigma0: number;
  redundancy: number;
}

export function judge(
  { scans, poses, surfaces }: Work,
  rows: readonly Rows[],
  inverse: Float64Array,
  n: number,
): Judged {
  let [squares, spare] = [0, 0];
  const tests: LeftOut[] = [];
  const residuals: Registered['residuals'] = [];
  for (const { of: what, a, misfit, sd } of rows) {
    let test = Number.NaN;
    a.forEach((row, k) => {
      let taken = 0;
      for (const [i, v] of row) for (const [j, u] of row) taken += v * u * inverse[i * n + j];
      const left = sd[k] ** 2 - taken;
      squares += (misfit[k] / sd[k]) ** 2;
      spare += left / sd[k] ** 2;
      if (left > 1e-3 * sd[k] ** 2)
        test = Math.max(Number.isNaN(test) ? 0 : test, Math.abs(misfit[k]) / Math.sqrt(left));
    });
    if (!what) continue;
    tests.push({ ...what, offM: Math.hypot(...misfit), test });
    if (what.what !== 'sighting') continue;
    const [scan, target] = [what.scan!, what.target!];
    const off = apply3(poses[scans.indexOf(scan)].rotation, [-misfit[0], -misfit[1], -misfit[2]]);
    residuals.push({ scan, target, offM: off, test });
  }
  const redundancy = Math.round(spare);
  // levels alone say nothing of the deviations of surfaces
  const checked = tests.length > 0 && spare > 0.5;
  const sigma0 = checked ? Math.sqrt(squares / spare) : surfaces ? surfaces.scale : Number.NaN;
  return { tests, residuals, sigma0, redundancy };
}

/** What all pieces of a scan share, of its ranges and its angles at some metres: thousands of them do not average it out. */
const COMMON_M = 0.0003;
const COMMON_RAD = 0.0003 / 15;

function addCommon(covariance: Float64Array): void {
  for (let k = 0; k < 6; k++) covariance[7 * k] += (k < 3 ? COMMON_M : COMMON_RAD) ** 2;
}

/** Everything told of placed scans. */
export function resultOf(
  work: Work,
  { residuals, sigma0, redundancy, tests }: Judged,
  inverse: Float64Array,
  n: number,
): Omit<Registered, 'rejected'> {
  const { request, names, scans, poses, places, surfaces } = work;
  const scale = tests.length && sigma0 > 1 ? sigma0 : 1;
  const sureness = surfaces && surenessOf(work);
  const unplaced = sureness?.unplaced ?? [];
  return {
    scans: scans.flatMap((name, i): PlacedScan[] => {
      if (i === work.fixedAt || unplaced.some((u) => u.name === name)) return [];
      const covariance = poseCovariance(inverse, n, i, scale);
      if (surfaces && i !== work.held) addCommon(covariance);
      return [
        {
          name,
          ...poses[i],
          covariance,
          targets: work.seen.filter((s) => s.scan === name).length,
          pieces: (surfaces?.all ?? []).filter((t) => t.from === i).reduce((s, t) => s + agreement(t).agree, 0),
          weakest: weakestOf(covariance),
        },
      ];
    }),
    unplaced,
    targets: names.map((name, t) => {
      const at = 6 * scans.length + 3 * t;
      return {
        name,
        atM: places[t],
        sdM: [0, 1, 2].map((k) => scale * Math.sqrt(inverse[(at + k) * n + at + k])) as Vector3,
        scans: work.seen.filter((s) => s.target === name).length,
        control: request.control.some((c) => c.name === name),
      };
    }),
    residuals,
    pairs: pairsOf(work, sureness),
    sigma0,
    redundancy,
    surfaceScale: surfaces?.scale ?? Number.NaN,
    unlike: (surfaces?.unlike ?? []).map(([a, b]) => ({ a: scans[a], b: scans[b] })),
    loose: work.held !== undefined,
  };
}

/** How scans agree at the targets and surfaces that both see, without what others say of them; worst first. */
function pairsOf(work: Work, sureness: Sureness | undefined): PairResidual[] {
  const { seen, scans, poses, surfaces } = work;
  const out: PairResidual[] = [];
  scans.forEach((a, i) =>
    scans.slice(i + 1).forEach((b, k) => {
      const j = i + 1 + k;
      const offs = seen.flatMap((s) => {
        const other = s.scan === a ? seen.find((o) => o.scan === b && o.target === s.target) : undefined;
        if (!other) return [];
        const [u, v] = [placed(poses[i], s.atM), placed(poses[j], other.atM)];
        return [Math.hypot(u[0] - v[0], u[1] - v[1], u[2] - v[2])];
      });
      const both = (surfaces?.all ?? []).filter((t) => t.from + t.to === i + j && Math.min(t.from, t.to) === i);
      if (!offs.length && !both.length) return;
      out.push({
        a,
        b,
        targets: offs.length,
        rmsM: offs.length ? Math.sqrt(offs.reduce((s, v) => s + v * v, 0) / offs.length) : Number.NaN,
        ...(both.length ? { surfaces: surfacesOf(both, work, sureness!, i, j) } : {}),
      });
    }),
  );
  const worst = (p: PairResidual) => Math.max(p.rmsM || 0, p.surfaces?.rmsM ?? 0);
  return out.sort((x, y) => worst(y) - worst(x));
}

function surfacesOf(
  both: NonNullable<Work['surfaces']>['all'],
  { surfaces, poses }: Work,
  { pairs }: Sureness,
  i: number,
  j: number,
): NonNullable<PairResidual['surfaces']> {
  let [squares, weights, agree] = [0, 0, 0];
  for (const t of both) {
    for (let k = 0; k < t.count; k++) {
      squares += t.weight[k] * t.offM[k] ** 2;
      weights += t.weight[k];
    }
    agree += agreement(t).agree;
  }
  const near = both.reduce((s, t) => s + t.near, 0);
  return {
    pieces: agree,
    rmsM: Math.sqrt(squares / Math.max(weights, 1e-9)),
    overlap: Math.max(...both.map((t) => t.near / surfaces!.chosen[t.from])),
    agreeing: agree / near,
    weakest: pairs.get(pairKey(i, j)) ?? { direction: [0, 0, 1], sdM: Number.NaN },
    worst: worstOf(both, surfaces!.patches, poses),
  };
}

/** Faces steeper than this stand upright: cosine of the normal's angle from the vertical. */
const UPRIGHT = 0.3;

function worstOf(
  both: readonly Ties[],
  patches: readonly ScanPatches[],
  poses: readonly Pose[],
): PairSurfaces['worst'] | undefined {
  let worst: PairSurfaces['worst'] | undefined;
  let most = -1;
  for (const ties of both) {
    const { at } = patches[ties.from];
    const { normal, at: there, sizeM } = patches[ties.to];
    for (let t = 0; t < ties.count; t++) {
      if (ties.weight[t] === 0) continue;
      const [a, b] = [3 * ties.a[t], 3 * ties.b[t]];
      const n = apply3(poses[ties.to].rotation, normal.subarray(b, b + 3));
      const own = placed(poses[ties.from], [at[a], at[a + 1], at[a + 2]]);
      const other = placed(poses[ties.to], [there[b], there[b + 1], there[b + 2]]);
      // where both show something at one place, upright faces before others
      const apart = Math.hypot(own[0] - other[0], own[1] - other[1], own[2] - other[2]);
      const together = apart < 0.5 * sizeM[ties.b[t]] ? 2 : 0;
      const rank = Math.abs(ties.offM[t]) + together + (Math.abs(n[2]) < UPRIGHT ? 1 : 0);
      if (rank <= most) continue;
      most = rank;
      worst = {
        atM: own,
        normal: [n[0], n[1], n[2]],
        offM: Math.abs(ties.offM[t]),
      };
    }
  }
  return worst;
}
