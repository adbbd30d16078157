import { DEG } from '../../frames/ellipsoid';
import { boresightSds, type SensorMounting } from '../../frames/mounting';
import { Cholesky } from '../../numeric/cholesky';

import { Problem } from '../../shared/problem';
import { addObservations, residuals, ROW, type Observations } from './equations';
import { addSlowness, knotSd, type Knots, KNOT_SIZE } from './knots';
import { HEAD_SIZE } from './partials';
import { ownScatter } from './scatter';
import { loosen, worsen } from './widen';

/** What is looked for. */
export interface Sought {
  boresight: boolean;
  lever: boolean;
  /** A constant correction of each line. */
  shift: boolean;
  /** A slow correction along each line. */
  drift: boolean;
  range: boolean;
}

export const HEAD_NAMES = ['roll', 'pitch', 'heading', 'lever x', 'lever y', 'lever z', 'range'] as const;
export type HeadName = (typeof HEAD_NAMES)[number];

export type HeldReason = 'not asked' | 'not determined';

/** One parameter of a head; angles in degrees, lengths in metres. */
export interface HeadParameter {
  head: number;
  name: HeadName;
  solved: boolean;
  held?: HeldReason;
  /** Correction of what the mounting says; 0 when held. */
  correction: number;
  /**
   * 1 SD of the result: of the adjustment; when held as the mounting says, else what lines alone would tell; NaN when nothing
   * is known.
   */
  sd: number;
  /** 1 SD from lines alone, without the mounting's own deviation; NaN when not asked for. */
  sdFromLines: number;
}

export interface Solution {
  /** All unknowns: for each head seven, then the knots. */
  unknown: Float64Array;
  covariance: Float64Array;
  n: number;
  parameters: HeadParameter[];
  /** Correlations between solved parameters, in their order. */
  correlation: number[][];
  /** Scatter of patches beyond that of their points, 1 SD, metres. */
  patchSdM: number;
  /** Residuals and weights: rows, then marks. */
  residualM: Float64Array;
  weight: Float64Array;
  /** Share of rows that count for less than half. */
  downWeighted: number;
  /** Heads whose mounting's own deviations are contradicted. */
  contradicted: number[];
  /** Cells whose mark is left out as not fitting. */
  marksLeftOut: number[];
}

/** Millidegrees and such: what an unknown is multiplied by for its name's unit. */
const UNIT = [0, 1, 2].map(() => 0.001 / DEG).concat([1, 1, 1, 1]);
/** Deviation with which a parameter that cannot be determined still counts, in degrees and metres: nothing is known of it. */
const VAGUE = [0.1, 0.1, 0.1, 0.05, 0.05, 0.05, 0.05];
/** Keeps the equations regular where nothing determines a parameter. */
const LOOSEST = [20, 20, 20, 20, 20, 20, 20];
/** Held when it is not determined better than this: degrees for angles at any range, or metres on the ground. */
const ANGLE_LIMIT_DEG = [0.02, 0.02, 0.04];
const GROUND_LIMIT_M = 0.03;
const LENGTH_LIMIT_M = 0.02;
/** What is let go first when not all can be determined. */
const LET_GO: readonly number[] = [6, 5, 3, 4, 1, 2, 0];
const CHI_999 = [0, 10.83, 13.82, 16.27];
const ROUNDS = 8;

interface Prior {
  /** SD of each head parameter in the unknown's unit; Infinity: none. */
  sd: Float64Array;
}

/**
 * Robust least squares of all unknowns: mounting parameters free or with the mounting's own deviation, errors of the
 * trajectory with theirs. Parameters that lines cannot determine are held one after the other, the least likely first.
 */
export function solve(
  o: Observations,
  heads: readonly SensorMounting[],
  knots: Knots,
  sought: Sought,
  rangeM: number,
): Solution {
  const globals = HEAD_SIZE * heads.length;
  const n = globals + KNOT_SIZE * knots.count;
  const weight = new Float64Array(o.count + o.cells);
  const state: State = { o, n, globals, knots, weight, patchVar: 1e-6, residual: new Float64Array(o.count + o.cells) };
  const asked = heads.flatMap(() => HEAD_NAMES.map((_, c) => isAsked(c, sought)));
  const stated = heads.flatMap((h) => HEAD_NAMES.map((_, c) => statedSd(h, c)));
  const held = new Map<number, HeldReason>();
  asked.forEach((yes, p) => {
    if (!yes) held.set(p, 'not asked');
  });
  // a first robust solution with everything asked for left free, from which weights are known
  let fit = iterate(state, priorOf(asked, held, stated, []));
  const sdFromLines = new Float64Array(globals).fill(Number.NaN);
  for (;;) {
    const covariance = inverseOf(fit.normal, n);
    const worst = LET_GO.flatMap((c) => heads.map((_, h) => HEAD_SIZE * h + c)).find((p) => {
      if (held.has(p)) return false;
      sdFromLines[p] = Math.sqrt(covariance[p * n + p]) * UNIT[p % HEAD_SIZE];
      return sdFromLines[p] > limitOf(p % HEAD_SIZE, rangeM, stated[p]);
    });
    if (worst === undefined) {
      for (let p = 0; p < globals; p++)
        if (!held.has(p)) sdFromLines[p] = Math.sqrt(covariance[p * n + p]) * UNIT[p % HEAD_SIZE];
      break;
    }
    held.set(worst, 'not determined');
    fit = iterate(state, priorOf(asked, held, stated, []), 3);
  }
  const contradicted = contradictions(fit, heads, held, stated, n);
  const known = heads.map((_, h) => h).filter((h) => !contradicted.includes(h));
  fit = iterate(state, priorOf(asked, held, stated, known), 3);
  if (sought.shift || sought.drift)
    for (let round = 0; round < 4 && loosen(knots, fit.unknown, globals); round++)
      fit = iterate(state, priorOf(asked, held, stated, known), 4);
  let covariance = inverseOf(fit.normal, n);
  for (let round = 0; round < 3 && worsen(knots, fit.unknown, covariance, globals, n); round++) {
    fit = iterate(state, priorOf(asked, held, stated, known), 3);
    covariance = inverseOf(fit.normal, n);
  }
  const parameters = parametersOf(fit.unknown, covariance, n, heads, held, stated, sdFromLines);
  return {
    unknown: fit.unknown,
    covariance,
    n,
    parameters,
    correlation: correlationsOf(parameters, covariance, n),
    patchSdM: Math.sqrt(state.patchVar),
    residualM: state.residual,
    weight,
    downWeighted: shareBelowHalf(state),
    contradicted,
    marksLeftOut: Array.from({ length: o.cells }, (_, c) => c).filter(
      (c) => o.markVarianceM2[c] > 0 && weight[o.count + c] === 0,
    ),
  };
}

interface State {
  o: Observations;
  n: number;
  globals: number;
  knots: Knots;
  weight: Float64Array;
  patchVar: number;
  residual: Float64Array;
}

interface Fit {
  unknown: Float64Array;
  normal: Float64Array;
}

/** Rounds of least squares, weights and the patches' own scatter, which is taken from the residuals. */
function iterate(state: State, prior: Prior, rounds = ROUNDS): Fit {
  const { o, n, globals, weight, residual } = state;
  let unknown = new Float64Array(n);
  let normal!: Float64Array;
  const first = weight[0] === 0;
  if (first) weighByVariance(state);
  for (let round = 0; round < rounds; round++) {
    normal = new Float64Array(n * n);
    const b = new Float64Array(n);
    addObservations(o, weight, normal, b, n);
    for (let p = 0; p < globals; p++) normal[p * n + p] += 1 / prior.sd[p] ** 2;
    addSlowness(normal, n, globals, state.knots);
    const factors = Cholesky.of(normal, n);
    if (!factors)
      throw new Problem('The lines cannot be adjusted: their equations have no single solution.', {
        code: 'strips-singular',
        remedy: 'Solve for less, or bring more lines that overlap.',
      });
    unknown = factors.solve(b) as Float64Array<ArrayBuffer>;
    residuals(o, weight, unknown, residual);
    weigh(state, first && round < 3);
  }
  return { unknown, normal };
}

function weighByVariance({ o, weight, patchVar }: State): void {
  for (let i = 0; i < o.count; i++) weight[i] = 1 / (o.varianceM2[i] + patchVar + o.commonM2[i]);
  for (let c = 0; c < o.cells; c++) weight[o.count + c] = o.markVarianceM2[c] > 0 ? 1 / o.markVarianceM2[c] : 0;
}

/** Weights of the next round: Huber's at first, then Tukey's biweight; marks beyond 3.5 deviations count no more. */
function weigh(state: State, gentle: boolean): void {
  const { o, weight, residual } = state;
  state.patchVar = ownScatter(o, residual, state.patchVar);
  for (let cell = 0; cell < o.cells; cell++) {
    const from = o.start[cell];
    const to = o.start[cell + 1];
    const freedom = Math.sqrt((to - from - 1) / (to - from));
    for (let i = from; i < to; i++) {
      const variance = o.varianceM2[i] + state.patchVar;
      const t = Math.abs(residual[i]) / (Math.sqrt(variance) * Math.max(freedom, 0.5));
      const factor = gentle ? (t <= 2 ? 1 : 2 / t) : t < 5 ? (1 - (t / 5) ** 2) ** 2 : 0;
      weight[i] = factor / (variance + o.commonM2[i]);
    }
    const given = o.markVarianceM2[cell];
    if (!(given > 0)) continue;
    const t = Math.abs(residual[o.count + cell]) / Math.sqrt(given + state.patchVar + markReach(state, cell));
    weight[o.count + cell] = (gentle ? (t <= 2 ? 1 : 2 / t) : t < 3.5 ? 1 : 0) / given;
  }
}

/** By how much heights at a mark may err by the trajectory: what a mark's residual is judged by besides its own deviation. */
function markReach({ o, knots, globals }: State, cell: number): number {
  const row = o.start[cell];
  if (row === o.start[cell + 1]) return 0;
  const knot = Math.floor((o.place[ROW * row + HEAD_SIZE] - globals) / KNOT_SIZE);
  return knotSd(knots, knot, 2) ** 2;
}

const isAsked = (c: number, s: Sought) => (c < 3 ? s.boresight : c < 6 ? s.lever : s.range);

/** What the mounting says, in degrees or metres; 0: nothing. */
function statedSd(mounting: SensorMounting, c: number): number {
  const { roll, pitch, heading } = boresightSds(mounting);
  return c < 3 ? [roll, pitch, heading][c] : c < 6 ? mounting.leverArmSdM : 0;
}

/**
 * Deviations of the mounting's parameters as they enter: none for what is looked for, unless the mounting fits; vague for
 * what cannot be determined; as the mounting says for what was not asked for.
 */
function priorOf(
  asked: readonly boolean[],
  held: ReadonlyMap<number, HeldReason>,
  stated: readonly number[],
  known: readonly number[],
): Prior {
  return {
    sd: Float64Array.from(asked, (_, p) => {
      const c = p % HEAD_SIZE;
      const reason = held.get(p);
      const trusted = known.includes(Math.floor(p / HEAD_SIZE)) && stated[p] > 0;
      const sd =
        reason === undefined
          ? trusted
            ? stated[p]
            : LOOSEST[c]
          : reason === 'not determined'
            ? // an arm is as the tape has it; angles that lines do not tell may be far off
              c >= 3 && c < 6 && stated[p] > 0
              ? stated[p]
              : Math.max(stated[p], VAGUE[c])
            : Math.max(stated[p], 1e-6);
      return sd / UNIT[c];
    }),
  };
}

function limitOf(c: number, rangeM: number, statedSdOf: number): number {
  if (c >= 3) return Math.max(LENGTH_LIMIT_M, statedSdOf);
  return Math.max(ANGLE_LIMIT_DEG[c], GROUND_LIMIT_M / rangeM / DEG, statedSdOf / 2);
}

function inverseOf(normal: Float64Array, n: number): Float64Array {
  return Cholesky.of(normal, n)!.inverse();
}

/** Heads whose boresight is further from the mounting's than both deviations let expect (χ², 99.9 %). */
function contradictions(
  { unknown, normal }: Fit,
  heads: readonly SensorMounting[],
  held: ReadonlyMap<number, HeldReason>,
  stated: readonly number[],
  n: number,
): number[] {
  const covariance = inverseOf(normal, n);
  return heads
    .map((_, h) => h)
    .filter((h) => {
      const places = [0, 1, 2].map((c) => HEAD_SIZE * h + c).filter((p) => !held.has(p) && stated[p] > 0);
      const m = places.length;
      if (!m) return false;
      const both = new Float64Array(m * m);
      places.forEach((p, i) =>
        places.forEach((q, j) => {
          both[i * m + j] = covariance[p * n + q] + (i === j ? (stated[p] / UNIT[i]) ** 2 : 0);
        }),
      );
      const x = Float64Array.from(places, (p) => unknown[p]);
      const solved = Cholesky.of(both, m)!.solve(x);
      return x.reduce((s, v, i) => s + v * solved[i], 0) > CHI_999[m];
    });
}

function parametersOf(
  unknown: Float64Array,
  covariance: Float64Array,
  n: number,
  heads: readonly SensorMounting[],
  held: ReadonlyMap<number, HeldReason>,
  stated: readonly number[],
  sdFromLines: Float64Array,
): HeadParameter[] {
  return heads.flatMap((_, head) =>
    HEAD_NAMES.map((name, c): HeadParameter => {
      const p = HEAD_SIZE * head + c;
      const reason = held.get(p);
      const solved = reason === undefined;
      return {
        head,
        name,
        solved,
        ...(reason ? { held: reason } : {}),
        correction: solved ? unknown[p] * UNIT[c] : 0,
        sd: solved ? Math.sqrt(covariance[p * n + p]) * UNIT[c] : stated[p] > 0 ? stated[p] : sdFromLines[p],
        sdFromLines: sdFromLines[p],
      };
    }),
  );
}

function correlationsOf(parameters: readonly HeadParameter[], covariance: Float64Array, n: number): number[][] {
  const places = parameters.flatMap((p, i) => (p.solved ? [i] : []));
  return places.map((p) =>
    places.map((q) => covariance[p * n + q] / Math.sqrt(covariance[p * n + p] * covariance[q * n + q])),
  );
}

function shareBelowHalf({ o, weight, patchVar }: State): number {
  let low = 0;
  for (let i = 0; i < o.count; i++) if (weight[i] * (o.varianceM2[i] + patchVar + o.commonM2[i]) < 0.5) low++;
  return o.count ? low / o.count : 0;
}
