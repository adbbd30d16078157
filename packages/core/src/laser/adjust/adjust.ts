import { type SensorMounting } from '../../frames/mounting';
import { type ReferenceSystem } from '../../frames/referenceSystem';
import { Problem } from '../../shared/problem';
import { part, tick, type Watch } from '../../shared/progress';
import { type StripPlan } from '../../trajectory/strips';
import { type Trajectory } from '../../trajectory/trajectory';
import {
  appliedOf,
  correctedMounting,
  correctedTrajectory,
  trajectoryCorrection,
  type TrajectoryCorrection,
} from './apply';
import { chooseCells } from './choose';
import { differencesOf, expectedOf, planShiftsOf, rmsOf, type Differences, type PlanShift } from './differences';
import { observe, type PatchMark, type Piece } from './equations';
import { cellSizeOf, gather, type ControlMark, type Gathered, type HeadReturns } from './gather';
import { KNOT_RULES, makeKnots, type KnotRules, type Knots } from './knots';
import { Partials } from './partials';
import { PATCH_RULES, patchesOf, type Patches } from './patches';
import { solve, type HeadParameter, type Solution, type Sought } from './solve';

export interface AdjustRequest {
  trajectory: Trajectory;
  system: ReferenceSystem;
  heads: readonly HeadReturns[];
  plan: StripPlan;
  control: readonly ControlMark[];
  sought: Sought;
  knotRules?: KnotRules;
}

/** How lines agree, before or after. */
export interface Agreement {
  differences: Differences;
  /** RMS along the normals, all pairs, metres. */
  rmsM: number;
  /** The same for pairs of patches whose points all scatter about one plane as they do. */
  noiseM: number;
  plan: PlanShift[];
  /** RMS of shifts in plan, metres; NaN where slopes are lacking. */
  planRmsM: number;
}

/** A control mark: points less mark, before and after. */
export interface ControlResult {
  name: string;
  beforeM: number;
  afterM: number;
  used: boolean;
  /** How many lines lie at it on planar ground. */
  lines: number;
}

export interface Adjustment {
  cellM: number;
  pieces: Piece[];
  before: Agreement;
  after: Agreement;
  parameters: HeadParameter[];
  correlation: number[][];
  contradicted: number[];
  knots: Knots;
  correction: TrajectoryCorrection;
  /** Estimated errors of the trajectory at the knots and their deviations, made or not. */
  errors: { value: Float64Array; sd: Float64Array };
  mountings: SensorMounting[];
  trajectory: Trajectory;
  control: ControlResult[];
  patches: number;
  rough: number;
  rounds: number;
  patchSdM: number;
  downWeighted: number;
  /** Returns in each line, in each piece left out, and outside the trajectory. */
  inLine: Float64Array;
  inLeftOut: Float64Array;
  outside: number;
  rangeM: number;
  originE: number;
  originN: number;
}

/** Edge of a tile in which shifts in plan are looked for, in cells. */
const TILE_CELLS = 14;
const MAX_ROUNDS = 4;
/** Rounds end when no parameter moves by more than this share of its deviation. */
const SETTLED = 0.1;

/**
 * Calibrates the mounting and corrects the trajectory so that overlapping lines agree: least squares on planar patches of
 * all lines and heads (Skaloud & Lichti 2006; Glira et al. 2015), errors of the trajectory weighted by its own deviations.
 * Returns are placed anew after each round, so that correspondence follows the points; nothing is bent.
 * @throws Problem where no lines overlap on planar ground.
 */
export function adjustLines(request: AdjustRequest, watch?: Watch): Adjustment {
  const { trajectory, system, heads, plan, control, sought } = request;
  const pieces = plan.strips.flatMap((_, l) => heads.map((__, head): Piece => ({ head, line: l + 1 })));
  tick(watch, 0, 'Measuring the density');
  const size = cellSizeOf(trajectory, system, heads, plan);
  let mountings = heads.map((h) => h.mounting);
  let path = trajectory;
  let knots: Knots | undefined;
  let correction: TrajectoryCorrection | undefined;
  let applied: Float64Array | undefined;
  let solution: Solution | undefined;
  let before: Agreement | undefined;
  let first: Gathered | undefined;
  let patchLimit: number | undefined;
  let control1: Map<string, number> = new Map();
  const results = new Map<string, ControlResult>();
  for (let round = 0; ; round++) {
    const share = 1 / (MAX_ROUNDS + 1);
    const now = heads.map((h, i): HeadReturns => ({ ...h, mounting: mountings[i] }));
    const got = gather(path, system, now, plan, size, control, part(watch, round * share, (round + 0.8) * share));
    if (round === 0) mustHold(got, plan);
    const patches = patchesOf(got.sums, PATCH_RULES, patchLimit);
    patchLimit ??= patches.roughLimitM;
    const agreement = agreementOf(patches, pieces, size.cellM);
    if (round === 0) {
      first = got;
      before = agreement;
      mustOverlap(patches, pieces);
    }
    const last = solution !== undefined && (round === MAX_ROUNDS || settled(solution, applied!, heads.length));
    knots ??= makeKnots(trajectory, spansOf(got), request.knotRules ?? KNOT_RULES);
    applied ??= new Float64Array(7 * heads.length + 6 * knots.count);
    const { joined, marks } = withMarks(patches, got, control);
    if (last) {
      for (const mark of marks) {
        const r = results.get(mark.name);
        if (r) r.afterM = aboveMark(joined, mark);
      }
      return {
        cellM: size.cellM,
        pieces,
        before: before!,
        after: agreement,
        parameters: solution!.parameters,
        correlation: solution!.correlation,
        contradicted: solution!.contradicted,
        knots,
        correction: correction!,
        errors: errorsOf(solution!, heads.length),
        mountings,
        trajectory: path,
        control: control.map(
          (m) => results.get(m.name) ?? { name: m.name, beforeM: NaN, afterM: NaN, used: false, lines: 0 },
        ),
        patches: before!.differences.count,
        rough: patches.rough,
        rounds: round,
        patchSdM: solution!.patchSdM,
        downWeighted: solution!.downWeighted,
        inLine: first!.inLine,
        inLeftOut: first!.inLeftOut,
        outside: first!.outside,
        rangeM: first!.rangeM,
        originE: size.originE,
        originN: size.originN,
      };
    }
    tick(watch, (round + 0.85) * share, 'Adjusting');
    const partials = new Partials(path, system, mountings);
    const chosen = chooseCells(patches);
    const observations = observe(joined, chosen, marks, pieces, partials, knots, heads.length, applied);
    solution = solve(
      observations,
      heads.map((h) => h.mounting),
      knots,
      sought,
      got.rangeM,
    );
    correction = trajectoryCorrection(
      knots,
      solution.unknown,
      solution.covariance,
      heads.length,
      sought.shift,
      sought.drift,
    );
    if (round === 0) control1 = new Map(marks.map((m) => [m.name, aboveMark(joined, m)]));
    for (const [i, mark] of marks.entries())
      results.set(mark.name, {
        name: mark.name,
        beforeM: control1.get(mark.name) ?? Number.NaN,
        afterM: Number.NaN,
        used: !solution.marksLeftOut.includes(chosen.length + i),
        lines: joined.start[mark.cell + 1] - joined.start[mark.cell],
      });
    applied = appliedOf(solution.parameters, correction, heads.length);
    const of = (h: number) => solution!.parameters.filter((p) => p.head === h);
    mountings = heads.map((h, i) => correctedMounting(h.mounting, of(i)));
    path = correctedTrajectory(trajectory, correction, system.ellipsoid);
  }
}

/** Whether the last corrections hardly differ from those the returns were placed with. */
function settled(solution: Solution, applied: Float64Array, heads: number): boolean {
  const { n, covariance, unknown } = solution;
  return solution.parameters.every((p, i) => {
    if (!p.solved) return true;
    const moved = Math.abs(unknown[i] - applied[i]);
    return moved < SETTLED * Math.sqrt(covariance[i * n + i]) && i < 7 * heads;
  });
}

function agreementOf(patches: Patches, pieces: readonly Piece[], cellM: number): Agreement {
  const differences = differencesOf(patches);
  const plan = planShiftsOf(differences, pieces, TILE_CELLS * cellM);
  let sum = 0;
  for (const s of plan) sum += s.dE ** 2 + s.dN ** 2;
  return {
    differences,
    rmsM: rmsOf(differences),
    noiseM: expectedOf(differences),
    plan,
    planRmsM: plan.length ? Math.sqrt(sum / plan.length) : Number.NaN,
  };
}

/** @throws Problem where no return lies in a line, by what is in the way. */
function mustHold({ inLine, inLeftOut }: Gathered, { strips }: StripPlan): void {
  if (inLine.some((n) => n > 0)) return;
  if (inLeftOut.some((n) => n > 0))
    throw new Problem(
      strips.length
        ? 'All returns lie in turns and other pieces that are left out of the strips.'
        : 'The trajectory has no strip: no straight piece is long enough.',
      { code: 'strips-none', remedy: 'Lower the shortest strip, or let strips turn faster.' },
    );
  throw new Problem('No return lies within the time of the trajectory.', {
    code: 'strips-time',
    remedy: 'Choose the trajectory of the same session.',
  });
}

function mustOverlap(patches: Patches, pieces: readonly Piece[]): void {
  const lines = new Set<number>();
  for (let i = 0; i < patches.entries; i++) lines.add(patches.piece[i]);
  if (patches.cells >= 30 && lines.size > 1) return;
  const several = pieces.length > 1;
  throw new Problem(
    several
      ? `Lines share only ${patches.cells} planar patches; at least 30 are needed.`
      : 'There is only one line; nothing can be compared.',
    {
      code: 'strips-overlap',
      remedy: 'Bring lines that overlap on roads, roofs or other planar ground, or lower the shortest line.',
    },
  );
}

/** Moments between which each line has points; lines without any share the moment of the line before. */
function spansOf({ startS, endS }: Gathered): Array<{ startS: number; endS: number }> {
  let before = Array.from(startS).find((t) => !Number.isNaN(t)) ?? 0;
  return Array.from(startS, (s, l) => {
    const there = !Number.isNaN(s);
    const out = there ? { startS: s, endS: endS[l] } : { startS: before, endS: before };
    before = out.endS;
    return out;
  });
}

/** Patches about the control marks, behind those of the cells. */
function withMarks(
  patches: Patches,
  got: Gathered,
  control: readonly ControlMark[],
): { joined: Patches; marks: PatchMark[] } {
  let joined = patches;
  const marks: PatchMark[] = [];
  control.forEach((m, i) => {
    const near = patchesOf(got.marks[i], { ...PATCH_RULES, minPieces: 1 }, patches.roughLimitM);
    if (!near.cells) return;
    const { name, eastingM, northingM, heightM, sdHM } = m;
    marks.push({ cell: joined.cells, name, eastingM, northingM, heightM, sdM: Math.max(sdHM, 0.001) });
    joined = join(joined, near);
  });
  return { joined, marks };
}

function join(a: Patches, b: Patches): Patches {
  return {
    ...a,
    cells: a.cells + b.cells,
    entries: a.entries + b.entries,
    start: concatInts(
      a.start,
      b.start.subarray(1).map((v) => v + a.entries),
    ),
    column: concatInts(a.column, b.column),
    row: concatInts(a.row, b.row),
    normal: concatFloats(a.normal, b.normal),
    piece: concatInts(a.piece, b.piece),
    eastingM: concatFloats(a.eastingM, b.eastingM),
    northingM: concatFloats(a.northingM, b.northingM),
    heightM: concatFloats(a.heightM, b.heightM),
    timeS: concatFloats(a.timeS, b.timeS),
    varianceM2: concatFloats(a.varianceM2, b.varianceM2),
  };
}

function concatInts(a: Int32Array, b: Int32Array): Int32Array {
  const out = new Int32Array(a.length + b.length);
  out.set(a);
  out.set(b, a.length);
  return out;
}

function concatFloats(a: Float64Array, b: Float64Array): Float64Array {
  const out = new Float64Array(a.length + b.length);
  out.set(a);
  out.set(b, a.length);
  return out;
}

/** Points above the mark, the mean of all lines, along the normal. */
function aboveMark(p: Patches, { cell, eastingM, northingM, heightM }: PatchMark): number {
  let sum = 0;
  let weight = 0;
  for (let i = p.start[cell]; i < p.start[cell + 1]; i++) {
    const w = 1 / p.varianceM2[i];
    weight += w;
    sum +=
      w *
      (p.normal[3 * cell] * (p.eastingM[i] - eastingM) +
        p.normal[3 * cell + 1] * (p.northingM[i] - northingM) +
        p.normal[3 * cell + 2] * (p.heightM[i] - heightM));
  }
  return sum / weight / p.normal[3 * cell + 2];
}

function errorsOf({ unknown, covariance, n }: Solution, heads: number): { value: Float64Array; sd: Float64Array } {
  const from = 7 * heads;
  return {
    value: unknown.slice(from),
    sd: Float64Array.from({ length: n - from }, (_, i) => Math.sqrt(covariance[(from + i) * n + from + i])),
  };
}
