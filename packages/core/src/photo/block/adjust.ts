import { Problem } from '../../shared/problem';
import { part, tick, type Watch } from '../../shared/progress';
import { covariancesOf, type Covariances } from './covariance';
import { byFew, revive } from './begin';
import { grossPlaces, leaveOut, termsToHold, type Contradiction, type HeldTerm } from './judge';
import { placePoints } from './meet';
import { CAMERA_TERMS, startOf, TERMS, type Block, type BlockState, type CameraTerm } from './model';
import { placeResidual } from './normals';
import { backInPlace, inOrder } from './order';
import { dropLonely, FEWEST_RAYS, rejectRays, robustScale, standardised } from './reject';
import { distanceOf, Solver } from './solve';

/** Which terms of the cameras are looked for: by significance, none, or these. */
export type Calibrate = 'auto' | 'none' | readonly CameraTerm[];

export interface AdjustedCamera {
  /** 1 SD of each term: what is known after the adjustment. */
  sd: { [T in CameraTerm]: number };
  /** Terms found, in the order of the correlations between them. */
  found: CameraTerm[];
  correlation: number[][];
}

export interface AdjustedBlock {
  state: BlockState;
  covariances: Covariances;
  cameras: AdjustedCamera[];
  held: HeldTerm[];
  /** Column in the equations of each picture, for {@link Covariances.of}. */
  imageAt: Int32Array;
  /** And of each session's shift. */
  shiftAt: Int32Array;
  /** Pictures with rays enough for their pose. */
  oriented: boolean[];
  /** Of each ray: whether it counts, and its residual, pixels (NaN where its point is not known). */
  alive: Uint8Array;
  residualPx: Float64Array;
  /** Rays rejected as not fitting, with their standardised residuals, worst first. */
  rejected: Array<{ ray: number; test: number }>;
  /** Places of pictures, and control, left out because the block contradicts them, worst first. */
  placesOut: Contradiction[];
  controlOut: Contradiction[];
  /** Of distances: found length and its deviation, metres. */
  distances: Array<{ foundM: number; sdM: number }>;
  /** Square root of weighted squares over redundancy, by stated deviations: of ties alone, and of all. */
  sigmaFree: number;
  sigma0: number;
  redundancy: number;
  /** What stated deviations of rays were multiplied with, by group; 1 where they agree with the residuals. */
  rayScales: number[];
  /** Whether nothing says where the block lies; whether nothing says how large it is. */
  loose: { place: boolean; scale: boolean };
}

export interface BlockRequest {
  block: Block;
  calibrate: Calibrate;
  /** Start values other than those of the pictures, from orienting them by ties alone. */
  start?: BlockState;
}

/** Stated deviations of rays are believed where residuals are within this share of them. */
const AGREES = 0.1;
const MOST_OUT = 40;
/** Of looking for rays that do not fit, once most are out. */
const ROUNDS_AFTER = 3;

/**
 * Bundle adjustment of a block: poses, points, cameras and shifts of sessions by least squares of all rays, given places,
 * control and distances (Triggs et al. 2000); ties alone first, then with what is given; what contradicts is left out and
 * named; terms of cameras are chosen by what the block tells of them.
 * @throws Problem where pictures do not hang together.
 */
export function adjustBlock({ block: given, calibrate, start }: BlockRequest, watch?: Watch): AdjustedBlock {
  const state = start ?? startOf(given);
  const { rays, was } = inOrder(given, state);
  const block: Block = { ...given, rays };
  const images = { camera: Int32Array.from(block.images, (i) => i.camera) };
  placePoints(block, images, state);
  /** A panorama has no terms that could be found: they are held, and no word is lost on them. */
  const held = new Map<number, HeldTerm['reason'] | 'panorama'>();
  for (let k = 0; k < TERMS * block.cameras.length; k++)
    if (block.cameras[Math.floor(k / TERMS)].camera.model === 'sphere') held.set(k, 'panorama');
    else if (!isAsked(calibrate, CAMERA_TERMS[k % TERMS])) held.set(k, 'not asked');
  const free = () => block.cameras.map((_, c) => CAMERA_TERMS.map((__, t) => !held.has(TERMS * c + t)));
  const solver = new Solver(block, state, free());
  const isControl = block.points.map((p) => p.kind === 'control' && p.givenM !== undefined);
  const loose = looseOf(block);
  const doing = (w: Watch | undefined, what: string) => () => tick(w, 0, what);
  // points that rays do not place, and single rays, say nothing
  for (let r = 0; r < block.rays.count; r++) if (!solver.linear.ahead[r]) solver.alive[r] = 0;
  dropLonely(solver, isControl);
  mustTie(solver);
  solver.weights.point.fill(0);
  solver.again();
  byFew(solver, doing(watch, 'Adjusting by some ties'));
  solver.improve(30, true, 'nearly', doing(part(watch, 0.1, 0.2), 'Adjusting by ties'));
  if (revive(solver)) solver.improve(10, true, 'nearly', doing(part(watch, 0.2, 0.3), 'Adjusting by ties'));
  const placesOut = grossPlaces(solver);
  const rejected = rejectRays(solver, (share) => tick(watch, 0.3 + 0.2 * share, 'Looking for rays that do not fit'));
  const stated = rays.sdPx.slice();
  // held against the rays that count in the end: judged by ties alone, but not by what no tie is
  const free0 = { state: solver.state, residualPx: residualsOf(solver), control: false };
  solver.weights.point.fill(1);
  solver.improve(15, true, 'nearly', doing(part(watch, 0.5, 0.6), 'Adjusting with control'));
  let out = new Set([
    ...rejected,
    ...rejectRays(solver, (s) => tick(watch, 0.6 + 0.1 * s, 'Adjusting with control'), ROUNDS_AFTER),
  ]);
  const rayScales = rescale(solver);
  solver.improve(10, false, 'settled');
  const controlOut: Contradiction[] = [];
  let covariances: Covariances;
  for (let round = 0; ; round++) {
    tick(watch, 0.7 + (0.25 * round) / MOST_OUT, 'Computing deviations');
    covariances = covariancesOf(solver, loose);
    if (round >= MOST_OUT) break;
    if (leaveOut(solver, covariances, placesOut, controlOut, loose.place)) {
      solver.improve(10, false, 'settled');
      out = new Set([...out, ...rejectRays(solver, undefined, ROUNDS_AFTER)]);
      continue;
    }
    const terms = calibrate === 'auto' ? termsToHold(solver, covariances, held) : [];
    if (!terms.length) break;
    for (const { at, reason } of terms) {
      held.set(at, reason);
      const [c, t] = [Math.floor(at / TERMS), CAMERA_TERMS[at % TERMS]];
      solver.state.cameras[c][t] = block.cameras[c].camera[t];
    }
    solver.again(free());
    solver.improve(10, false, 'settled');
  }
  const residualPx = residualsOf(solver);
  const { sigma, redundancy } = sigmaOf(solver, held.size, stated, {
    state: solver.state,
    residualPx,
    control: true,
  });
  const sigmaFree = sigmaOf(solver, held.size, stated, free0).sigma;
  return {
    state: solver.state,
    covariances,
    cameras: block.cameras.map((_, c) => cameraOf(solver, covariances, c)),
    held: [...held].flatMap(([k, reason]) =>
      reason === 'panorama' ? [] : [{ camera: Math.floor(k / TERMS), term: CAMERA_TERMS[k % TERMS], reason }],
    ),
    imageAt: solver.layout.imageAt,
    shiftAt: solver.layout.shiftAt,
    oriented: raysOf(block, solver.alive).map((n) => n >= FEWEST_RAYS),
    alive: backInPlace(solver.alive, 1, was),
    residualPx: backInPlace(residualPx, 2, was),
    rejected: [...out]
      .filter((r) => !solver.alive[r])
      .map((r) => ({ ray: was[r], test: standardised(solver, r) }))
      .sort((a, b) => b.test - a.test),
    placesOut: placesOut.sort((a, b) => b.test - a.test),
    controlOut: controlOut.sort((a, b) => b.test - a.test),
    distances: block.distances.map((d) => lengthOf(solver, covariances, d)),
    sigmaFree,
    sigma0: sigma,
    redundancy,
    rayScales,
    loose,
  };
}

const isAsked = (calibrate: Calibrate, term: CameraTerm) =>
  calibrate === 'auto' || (calibrate !== 'none' && calibrate.includes(term));

function looseOf(block: Block): AdjustedBlock['loose'] {
  const given = block.images.filter((i) => i.given && i.given.session === undefined).length;
  const control = block.points.filter((p) => p.kind === 'control' && p.givenM && p.sdM).length;
  const place = given < 3 && control < 3;
  return { place, scale: place && !block.distances.some((d) => d.use === 'scale') };
}

const raysOf = ({ images, rays }: Block, alive: Uint8Array): Int32Array & number[] => {
  const count = new Int32Array(images.length);
  for (let r = 0; r < rays.count; r++) if (alive[r]) count[rays.image[r]]++;
  return count as Int32Array & number[];
};

function mustTie({ block, alive }: Solver): void {
  const count = raysOf(block, alive);
  if (!count.some((n) => n > 0))
    throw new Problem('No point is seen in two pictures from where its place can be told.', {
      code: 'block-ties',
      remedy: 'Measure the same points in several pictures, or look at their order and positions.',
    });
}

/** Brings stated deviations of rays to what their residuals show, group by group. @returns what they were multiplied with. */
function rescale(solver: Solver): number[] {
  const { group, sdPx, count } = solver.block.rays;
  const groups = group ? 1 + group.reduce((most, g) => Math.max(most, g), 0) : 1;
  return Array.from({ length: groups }, (_, g) => {
    const scale = robustScale(solver, group && g);
    if (Math.abs(scale - 1) <= AGREES) return 1;
    for (let r = 0; r < count; r++) if (!group || group[r] === g) sdPx[r] *= scale;
    return scale;
  });
}

/** Weighted squares over redundancy, by the deviations as they were stated. */
function sigmaOf(
  solver: Solver,
  held: number,
  statedPx: Float64Array,
  { state, residualPx, control }: { state: BlockState; residualPx: Float64Array; control: boolean },
): { sigma: number; redundancy: number } {
  const { block, alive, weights, layout } = solver;
  const { rays } = block;
  let [squares, count] = [0, 0];
  const seen = new Set<number>();
  for (let r = 0; r < rays.count; r++) {
    const [u, v] = [residualPx[2 * r], residualPx[2 * r + 1]];
    if (!alive[r] || !(u === u)) continue;
    squares += (u * u + v * v) / statedPx[r] ** 2;
    count += 2;
    seen.add(rays.point[r]);
  }
  const off = new Float64Array(3);
  block.images.forEach(({ given }, i) => {
    if (!given || weights.place[i] === 0) return;
    placeResidual(block, state, i, off);
    for (let k = 0; k < 3; k++) squares += (off[k] / given.sdM[k]) ** 2;
    count += 3;
  });
  block.points.forEach(({ kind, givenM, sdM }, p) => {
    if (!control || kind !== 'control' || !givenM || !sdM || weights.point[p] === 0 || !seen.has(p)) return;
    for (let k = 0; k < 3; k++) squares += ((givenM[k] - state.points[3 * p + k]) / sdM[k]) ** 2;
    count += 3;
  });
  block.distances.forEach((d) => {
    if (d.use !== 'scale') return;
    squares += ((d.valueM - distanceOf(state, d)) / d.sdM) ** 2;
    count++;
  });
  layout.termAt.forEach((column, k) => {
    if (column < 0) return;
    const [c, t] = [Math.floor(k / TERMS), CAMERA_TERMS[k % TERMS]];
    squares += ((block.cameras[c].camera[t] - state.cameras[c][t]) / block.cameras[c].sd[t]) ** 2;
    count++;
  });
  const poses = raysOf(block, alive).filter((n) => n > 0).length;
  const loose = looseOf(block);
  const unknowns =
    6 * poses +
    state.shifts.length +
    3 * seen.size +
    (TERMS * block.cameras.length - held) -
    (loose.place ? 6 : 0) -
    (loose.scale ? 1 : 0);
  const redundancy = count - unknowns;
  return { sigma: redundancy > 0 ? Math.sqrt(squares / redundancy) : Number.NaN, redundancy };
}

function cameraOf({ block, layout }: Solver, covariances: Covariances, c: number): AdjustedCamera {
  const columns = CAMERA_TERMS.map((_, t) => layout.termAt[TERMS * c + t]);
  const sd = Object.fromEntries(
    CAMERA_TERMS.map((t, k) => [
      t,
      columns[k] < 0 ? block.cameras[c].sd[t] : Math.sqrt(covariances.of(columns[k], columns[k])),
    ]),
  ) as AdjustedCamera['sd'];
  const found = CAMERA_TERMS.filter((_, k) => columns[k] >= 0);
  const own = columns.filter((v) => v >= 0);
  const correlation = own.map((a) =>
    own.map((b) => covariances.of(a, b) / Math.sqrt(covariances.of(a, a) * covariances.of(b, b))),
  );
  return { sd, found, correlation };
}

function residualsOf(solver: Solver): Float64Array {
  const out = new Float64Array(2 * solver.block.rays.count).fill(Number.NaN);
  for (let r = 0; r < solver.block.rays.count; r++) if (solver.linear.ahead[r]) out.set(solver.residual(r), 2 * r);
  return out;
}

/** Length of a distance as found, with its deviation. */
function lengthOf(
  { state, layout }: Solver,
  { of }: Covariances,
  d: { from: number; to: number },
): { foundM: number; sdM: number } {
  const foundM = distanceOf(state, d);
  const way = [0, 1, 2].map((k) => (state.points[3 * d.to + k] - state.points[3 * d.from + k]) / foundM);
  const [a, b] = [layout.pointAt[d.from], layout.pointAt[d.to]];
  let variance = 0;
  for (let i = 0; i < 3; i++)
    for (let j = 0; j < 3; j++) {
      variance += way[i] * way[j] * (of(a + i, a + j) + of(b + i, b + j) - 2 * of(a + i, b + j));
    }
  return { foundM, sdM: Math.sqrt(variance) };
}
