import { median } from '../../numeric/statistics';
import { tick, type Watch } from '../../shared/progress';
import { Problem } from '../../shared/problem';
import { type Vessel } from '../pings';
import { lineHeights, sharedCells, type SharedCell } from './cells';
import { corrected, movingSoundings, PATCH_TERMS, TERMS, type Moving, type PatchLine, type PatchTerm } from './lines';
import { pairsOf, type PatchPair } from './pairs';
import { solveStep } from './solve';
import { type LineFreedom } from './unknowns';

export interface PatchRequest {
  lines: readonly PatchLine[];
  vessel: Vessel;
  /** Edge of the cells in which lines are compared, metres. */
  cellM: number;
  freedom: LineFreedom;
}

export interface PatchResult {
  vessel: Vessel;
  /** Corrections found, degrees and seconds, by term, with 1 SD; NaN for those that were held. */
  by: { [term in PatchTerm]: number };
  sd: { [term in PatchTerm]: number };
  held: PatchTerm[];
  /** Correlations, [TERMS × TERMS] in the order of the terms. */
  correlation: Float64Array;
  /** Root mean square of differences between lines in the cells they share, before and after, metres. */
  beforeM: number;
  afterM: number;
  cells: number;
  iterations: number;
  pairs: PatchPair[];
}

const MOST_STEPS = 9;
/** Cells that lines must share. */
const FEWEST_CELLS = 40;
/** It has come to rest when no term moves by more than this share of its deviation. */
const AT_REST = 0.3;

/**
 * Mounting and latency of an echo sounder from lines that overlap: all soundings of a cell lie on one plane, whichever line
 * they are of. Latency moves the attitude too, so the wobble of outer beams in waves takes part; each line may be off by
 * what its path and its water allow.
 * @throws Problem when the lines share too little.
 */
export function patchTest({ lines, vessel, cellM, freedom }: PatchRequest, watch?: Watch): PatchResult {
  const total = new Float64Array(TERMS);
  let now = vessel;
  let m: Moving = movingSoundings(lines, now);
  let cells = sharedCells(m, cellM);
  if (cells.length < FEWEST_CELLS)
    throw new Problem(`The lines share ${cells.length} cells of ${cellM} m; ${FEWEST_CELLS} are needed.`, {
      code: 'patch-overlap',
      remedy: 'Choose lines that overlap: one run both ways, one beside it, one at another speed.',
    });
  const pairs = pairsOf(lines, m, cells);
  const beforeM = disagreement(m, cells);
  let step = solveStep(m, cells, lines.length, freedom);
  let iterations = 0;
  for (; iterations < MOST_STEPS; iterations++) {
    tick(watch, iterations / MOST_STEPS, `Step ${iterations + 1}`);
    let rest = true;
    for (let t = 0; t < TERMS; t++) {
      total[t] += step.by[t];
      if (Math.abs(step.by[t]) > AT_REST * Math.sqrt(step.covariance[t * TERMS + t])) rest = false;
    }
    now = corrected(vessel, total);
    m = movingSoundings(lines, now, m.origin);
    cells = sharedCells(m, cellM);
    step = solveStep(m, cells, lines.length, freedom);
    if (rest) break;
  }
  const { covariance, held } = step;
  const sd = (t: number) => (held[t] ? Number.NaN : Math.sqrt(covariance[t * TERMS + t]));
  const named = (of: (t: number) => number) =>
    Object.fromEntries(PATCH_TERMS.map((name, t) => [name, of(t)])) as PatchResult['by'];
  const correlation = new Float64Array(TERMS * TERMS);
  for (let a = 0; a < TERMS; a++)
    for (let b = 0; b < TERMS; b++) correlation[a * TERMS + b] = covariance[a * TERMS + b] / (sd(a) * sd(b));
  return {
    vessel: now,
    by: named((t) => (held[t] ? Number.NaN : total[t])),
    sd: named(sd),
    held: PATCH_TERMS.filter((_, t) => held[t]),
    correlation,
    beforeM,
    afterM: disagreement(m, cells),
    cells: cells.length,
    iterations: iterations + 1,
    pairs,
  };
}

/** Differences beyond this many times the usual one are things and flyers, not lines. */
const WILD = 5;

/** Root mean square of the differences of one line from another in the cells that they share. */
function disagreement(m: Moving, cells: readonly SharedCell[]): number {
  const differences: number[] = [];
  for (const c of cells) {
    const heights = lineHeights(m, c).filter(Number.isFinite);
    for (let i = 0; i < heights.length; i++)
      for (let j = i + 1; j < heights.length; j++) differences.push(Math.abs(heights[i] - heights[j]));
  }
  if (!differences.length) return Number.NaN;
  const limit = WILD * 1.4826 * median(Float64Array.from(differences));
  const kept = differences.filter((d) => d <= limit);
  return Math.sqrt(kept.reduce((sum, d) => sum + d * d, 0) / kept.length);
}
