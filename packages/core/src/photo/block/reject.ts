import { quantile } from '../../numeric/statistics';
import { type Solver } from './solve';

/** A ray is rejected beyond so many deviations of its residual, both coordinates together: of good ones, one in a thousand. */
export const REJECT = 3.8;
/** Of the last three rays of a point all are rejected whose squares are below that of the worst by less: any may be wrong. */
const EITHER = 12;
const MOST_ROUNDS = 10;
/** Less than this share of an error in a residual is not looked at. */
const LEAST_SHOWN = 0.1;
/** How often a ray may be taken back. */
const MOST_RETURNS = 2;
const MOST_AFTER = 6;
const SAMPLE = 20_000;

/**
 * Residual of a ray in deviations of that residual, both of its coordinates together: how well an error of this ray alone
 * explains what is off. Directions in which its residual shows next to nothing are not looked at.
 */
export function standardised(solver: Solver, r: number): number {
  const [u, v] = solver.residual(r);
  const [uu, uv, vv] = solver.shown(r);
  const middle = (uu + vv) / 2;
  const apart = Math.hypot((uu - vv) / 2, uv);
  // along the direction that is shown best, and across it
  const turn = 0.5 * Math.atan2(2 * uv, uu - vv);
  const cos = Math.cos(turn);
  const sin = Math.sin(turn);
  const along = u * cos + v * sin;
  const across = v * cos - u * sin;
  const most = middle + apart > LEAST_SHOWN ? along ** 2 / (middle + apart) : 0;
  const least = middle - apart > LEAST_SHOWN ? across ** 2 / (middle - apart) : 0;
  return Math.sqrt(most + least) / solver.block.rays.sdPx[r];
}

/** The same of a ray that does not count: what its residual may be is its own deviation and that of the point without it. */
function fitsAgain(solver: Solver, r: number): number {
  const [u, v] = solver.residual(r);
  const [uu, , vv] = solver.shown(r);
  return Math.hypot(u / Math.sqrt(2 - uu), v / Math.sqrt(2 - vv)) / solver.block.rays.sdPx[r];
}

/**
 * What stated deviations of rays are to be multiplied with, by the middle of their residuals: rays that do not fit have no
 * say. @param group of rays; all without it.
 */
export function robustScale(solver: Solver, group?: number): number {
  const { rays } = solver.block;
  const every = Math.max(1, Math.floor(rays.count / SAMPLE));
  const all: number[] = [];
  for (let r = 0; r < rays.count; r += every) {
    if (!solver.alive[r] || !solver.linear.ahead[r]) continue;
    if (group !== undefined && rays.group?.[r] !== group) continue;
    const residual = solver.residual(r);
    const [uu, , vv] = solver.shown(r);
    [uu, vv].forEach((shown, k) => {
      if (shown > 0.2) all.push(Math.abs(residual[k]) / (rays.sdPx[r] * Math.sqrt(shown)));
    });
  }
  return all.length < 20 ? 1 : quantile(all, 0.5) / 0.6745;
}

/**
 * Rejects rays one a point at a time, the worst first, and takes back those that fit once others are gone (data snooping,
 * Baarda 1968). Points that fewer than two rays see say nothing any more.
 * @returns rays rejected in the end.
 */
export function rejectRays(solver: Solver, tick?: (share: number) => void, rounds = MOST_ROUNDS): number[] {
  const { block, alive } = solver;
  const { rays } = block;
  const returned = new Uint8Array(rays.count);
  const control = block.points.map((p) => p.kind === 'control' && p.givenM !== undefined);
  const out = new Set<number>();
  const tests = new Float64Array(rays.count);
  // poses stay meanwhile: after the first round only points that gained or lost rays are looked at anew
  let which = solver.layout.points;
  for (let round = 0; round < rounds; round++) {
    tick?.(round / rounds);
    solver.settle(which);
    const scale = Math.max(1, robustScale(solver));
    const count = countsOf(solver);
    const { layout, linear } = solver;
    for (const p of which)
      for (let k = layout.from[p]; k < layout.from[p + 1]; k++) {
        const r = layout.ray[k];
        if (alive[r]) tests[r] = linear.ahead[r] ? standardised(solver, r) : Number.POSITIVE_INFINITY;
        else if (out.has(r) && linear.ahead[r] && count[p] > 1) tests[r] = fitsAgain(solver, r);
        else tests[r] = Number.POSITIVE_INFINITY;
      }
    const worst = new Map<number, { ray: number; t: number }>();
    const back: number[] = [];
    for (let r = 0; r < rays.count; r++) {
      const t = tests[r] / scale;
      if (!alive[r]) {
        if (t < REJECT && out.has(r) && returned[r] < MOST_RETURNS) back.push(r);
      } else if (t > REJECT && t > (worst.get(rays.point[r])?.t ?? 0)) worst.set(rays.point[r], { ray: r, t });
    }
    const gone = new Set<number>();
    for (const [p, { ray, t }] of worst) {
      gone.add(ray);
      if (count[p] !== 3) continue;
      for (let k = solver.layout.from[p]; k < solver.layout.from[p + 1]; k++) {
        const r = solver.layout.ray[k];
        if (alive[r] && (tests[r] / scale) ** 2 > t * t - EITHER) gone.add(r);
      }
    }
    const before = alive.slice();
    for (const r of gone) {
      alive[r] = 0;
      out.add(r);
    }
    for (const r of back) {
      if (worst.has(rays.point[r])) continue;
      alive[r] = 1;
      returned[r]++;
      out.delete(r);
    }
    dropLonely(solver, control);
    const changed = new Set<number>();
    for (let r = 0; r < rays.count; r++) if (alive[r] !== before[r]) changed.add(rays.point[r]);
    if (!changed.size) break;
    which = Int32Array.from(changed);
  }
  solver.improve(MOST_AFTER, false, 'closely');
  return [...out].sort((a, b) => a - b);
}

function countsOf({ block: { rays, points }, alive }: Solver): Int32Array {
  const count = new Int32Array(points.length);
  for (let r = 0; r < rays.count; r++) if (alive[r]) count[rays.point[r]]++;
  return count;
}

/** A picture with fewer rays than this has no pose: its rays say nothing. */
export const FEWEST_RAYS = 4;

/**
 * Lets single rays go, which tell nothing of their point, and those of pictures that have too few for a pose, until none is
 * left. @returns whether any was.
 */
export function dropLonely(solver: Solver, control: readonly boolean[]): boolean {
  const { block, alive } = solver;
  const { rays, images } = block;
  let any = false;
  for (let again = true; again;) {
    again = false;
    const count = countsOf(solver);
    const own = new Int32Array(images.length);
    for (let r = 0; r < rays.count; r++) if (alive[r]) own[rays.image[r]]++;
    for (let r = 0; r < rays.count; r++) {
      if (!alive[r]) continue;
      const alone = count[rays.point[r]] < 2 && !control[rays.point[r]];
      if (!alone && own[rays.image[r]] >= FEWEST_RAYS) continue;
      alive[r] = 0;
      any = again = true;
    }
  }
  return any;
}
