import { median } from '../../../numeric/statistics';
import { tick, type Watch } from '../../../shared/progress';
import { type Pose } from '../model';
import { unlikePairs } from './unlike';
import { PatchIndex, spreadChoice } from './patchIndex';
import { type ScanPatches } from './patches';
import { addNormals, addTies, normalised, tiesOf, weigh, type Reach, type Ties } from './ties';

/** Surfaces of all scans, by their order; those of a scan without any are undefined. */
export type AllPatches = ReadonlyArray<ScanPatches>;

export interface SurfaceTies {
  patches: AllPatches;
  all: Ties[];
  /** Deviations of ties in those that their scatter tells: 1 where surfaces are planes. */
  scale: number;
  /** Pieces of each scan that were tried. */
  chosen: number[];
  /** Scans that do not fit where they overlap, by their numbers. */
  unlike: Array<[number, number]>;
}

/** One step of all poses by least squares: adds what else is known to the equations, moves poses, tells how far. */
export type Step = (add: (normal: Float64Array, right: Float64Array, n: number) => void) => number;

/** Poses may be off so far to begin with, metres and metres a metre of range: 0.3 m and 3° with room to spare. */
const START: Reach = { mostM: 2, reachM: 0.7, reachPerM: 0.08, leastCos: Math.cos(0.44), besideEdges: Infinity };
const SHRINK = 0.72;
/** While reach grows more than this with range, normals help to turn scans. */
const TURNING = 0.01;
const LAST_REACH_M = 0.35;
const LAST_COS = Math.cos(0.14);
const FEW_PIECES = 900;
const MANY_PIECES = 6000;
const MOST_ROUNDS = 40;
const LAST_ROUNDS = 8;
const SETTLED = 5e-6;
/** Distances of this size are no sign of something else while poses are still as they began, metres; and at the end. */
const START_SLACK_M = 0.2;
const LAST_SLACK_M = 0.004;
/** Pairs with less in common are no neighbours. */
const LEAST_NEAR = 25;

/**
 * Brings scans together by their surfaces: pieces of planes on planes of all the others at once (Chen & Medioni 1992 in one
 * adjustment of all poses), from a wide reach to a narrow one, with weights by which what moved between scans falls out.
 */
export function converge(patches: AllPatches, poses: readonly Pose[], step: Step, watch?: Watch): SurfaceTies {
  const served = patches.map((p) => new Uint16Array(p.count));
  const few = patches.map((p) => spreadChoice(p, FEW_PIECES));
  const many = patches.map((p) => spreadChoice(p, MANY_PIECES));
  let reach = START;
  const coarse = indexes(patches, 1);
  let fine: PatchIndex[] | undefined;
  const found: SurfaceTies = { patches, all: [], scale: 1, chosen: many.map((m) => m.length), unlike: [] };
  let slackM = START_SLACK_M;
  let lastRounds = 0;
  for (let round = 0; round < MOST_ROUNDS; round++) {
    tick(watch, Math.min(0.95, round / 25), 'Bringing surfaces together');
    const last = reach.besideEdges < Infinity;
    if (last) fine ??= indexes(patches, 0.5);
    found.all = pairTies(patches, last ? many : few, last ? fine! : coarse, poses, reach, found.unlike);
    // while it is coarse, what is still in hand hides the noise of pieces
    found.scale = Math.max(last ? 0.5 : 1, scaleOf(found.all, slackM));
    for (const t of found.all) weigh(t, found.scale, slackM, served[t.to]);
    const turning = reach.reachPerM > TURNING;
    const moved = step((normal, right, n) => {
      for (const t of found.all) {
        addTies(t, patches, poses, found.scale, slackM, normal, right, n);
        if (turning) addNormals(t, patches, poses, normal, right, n);
      }
    });
    if (last) {
      if (moved > SETTLED && ++lastRounds < LAST_ROUNDS) continue;
      const unlike = unlikePairs(found.all, patches, many, poses);
      if (!unlike.length) break;
      // what does not fit is taken out, and the others settle without it
      found.unlike.push(...unlike);
      lastRounds = 0;
      continue;
    }
    slackM *= SHRINK;
    if (slackM > LAST_SLACK_M)
      reach = {
        ...reach,
        reachM: Math.max(LAST_REACH_M, SHRINK * reach.reachM),
        reachPerM: SHRINK * reach.reachPerM,
        leastCos: Math.min(LAST_COS, reach.leastCos + 0.015),
      };
    else {
      reach = { ...reach, reachM: LAST_REACH_M, reachPerM: 0, leastCos: LAST_COS, besideEdges: 1.2 };
      slackM = 0;
    }
  }
  return found;
}

const indexes = (patches: AllPatches, cellM: number) => patches.map((p) => new PatchIndex(p, cellM));

function pairTies(
  patches: AllPatches,
  chosen: readonly Int32Array[],
  index: readonly PatchIndex[],
  poses: readonly Pose[],
  reach: Reach,
  unlike: ReadonlyArray<readonly [number, number]>,
): Ties[] {
  const out: Ties[] = [];
  for (let i = 0; i < patches.length; i++)
    for (let j = i + 1; j < patches.length; j++) {
      if (!patches[i].count || !patches[j].count || unlike.some(([a, b]) => a === i && b === j)) continue;
      const there = tiesOf(i, j, patches[i], chosen[i], index[j], poses, reach);
      if (there.near < LEAST_NEAR) continue;
      const back = tiesOf(j, i, patches[j], chosen[j], index[i], poses, reach);
      if (back.near < LEAST_NEAR) continue;
      out.push(there, back);
    }
  return out;
}

/** By the median of distances, whose middle is nought (that of a normal deviate is 0.6745). */
const scaleOf = (all: readonly Ties[], slackM: number): number => {
  const n = normalised(all, slackM);
  return n.length ? median(n) / 0.6745 : 1;
};
