import { Problem } from '../../shared/problem';
import {
  FIXED_TO_PLATE,
  FRAME_STEPS,
  PLATE_TURNS_MAS_PER_YEAR,
  type FrameStep,
  type Plate,
  type TerrestrialFrame,
  type Three,
} from './parameters';

const MAS = Math.PI / 180 / 3600 / 1000;

/** A frame and the year with decimals to which coordinates in it belong. */
export interface FrameAtEpoch {
  frame: TerrestrialFrame;
  epoch: number;
}

/** How a place moves in international frames: with a plate, or by its own velocity, Earth-centred metres a year. */
export type Motion = { plate: Plate } | { mPerYear: Three };

/** Coordinates in another frame, and how they came there. */
export interface Carried {
  /** Earth-centred metres. */
  xyzM: Float64Array;
  /** Length of the way between the two sets of coordinates, metres. */
  byM: number;
  /** What was done, in words, in its order. */
  steps: string[];
}

/**
 * Carries a place from a frame and epoch to another: between frames by published parameters at the epoch of the
 * coordinates, between epochs by a motion. Into frames that are fixed to a plate no motion is needed: what stands on that
 * plate keeps its coordinates there.
 * @param xyzM Earth-centred metres. @param motion of the place; undefined when it is not known.
 * @throws Problem when epochs differ and the motion is not known.
 */
export function carryPlace(xyzM: ArrayLike<number>, from: FrameAtEpoch, to: FrameAtEpoch, motion?: Motion): Carried {
  let at = Float64Array.of(xyzM[0], xyzM[1], xyzM[2]);
  const steps: string[] = [];
  const along = (target: TerrestrialFrame, epoch: number, start: TerrestrialFrame) => {
    for (const { step, back } of route(start, target)) {
      at = helmert(at, step, epoch, back);
      const [a, b] = back ? [step.to, step.from] : [step.from, step.to];
      steps.push(`${a} to ${b} at ${epoch.toFixed(2)} (${step.source})`);
    }
  };
  const fixed = FIXED_TO_PLATE[to.frame];
  if (from.epoch === to.epoch || (fixed && !motion)) {
    along(to.frame, from.epoch, from.frame);
    if (from.epoch !== to.epoch) steps.push(`kept from ${from.epoch} to ${to.epoch}: ${to.frame} goes with ${fixed}`);
  } else {
    const moving = motion ?? ownPlate(from.frame);
    if (!moving)
      throw new Problem(
        `Coordinates in ${from.frame} at ${from.epoch} cannot be carried to ${to.epoch}: how the place moves is not known.`,
        {
          code: 'frame-motion',
          remedy: 'Name its plate, or type its velocity.',
        },
      );
    // velocities are those of the international frame that plate models are given in
    along('ITRF2014', from.epoch, from.frame);
    at = moved(at, moving, to.epoch - from.epoch);
    steps.push(`${from.epoch} to ${to.epoch} with ${'plate' in moving ? `the plate ${moving.plate}` : 'its velocity'}`);
    along(to.frame, to.epoch, 'ITRF2014');
  }
  return { xyzM: at, byM: Math.hypot(at[0] - xyzM[0], at[1] - xyzM[1], at[2] - xyzM[2]), steps };
}

/** What stands in a frame that goes with a plate moves with that plate. */
function ownPlate(frame: TerrestrialFrame): Motion | undefined {
  const plate = FIXED_TO_PLATE[frame];
  return plate && { plate };
}

interface Leg {
  step: FrameStep;
  back: boolean;
}

/** Published steps that lead from one frame to another, the fewest; they form a tree, so that there is always a way. */
function route(from: TerrestrialFrame, to: TerrestrialFrame): Leg[] {
  const ways = new Map<TerrestrialFrame, Leg[]>([[from, []]]);
  for (const [at, way] of ways) {
    if (at === to) return way;
    for (const step of FRAME_STEPS) {
      const back = step.to === at;
      const next = back ? step.from : step.to;
      if ((back || step.from === at) && !ways.has(next)) ways.set(next, [...way, { step, back }]);
    }
  }
  throw new Error(`no way leads from ${from} to ${to}`);
}

/** Seven parameters at an epoch, small turns in first order as the publishers have them; back by the exact inverse. */
function helmert(p: Float64Array, s: FrameStep, epoch: number, back: boolean): Float64Array<ArrayBuffer> {
  const years = epoch - s.epoch;
  const [tx, ty, tz] = s.shiftMm.map((v, k) => (v + years * s.shiftMmPerYear[k]) / 1000);
  const [a, b, c] = s.turnMas.map((v, k) => (v + years * s.turnMasPerYear[k]) * MAS);
  const m = 1 + (s.scalePpb + years * s.scalePpbPerYear) * 1e-9;
  if (!back) {
    const [x, y, z] = p;
    return Float64Array.of(m * x - c * y + b * z + tx, c * x + m * y - a * z + ty, -b * x + a * y + m * z + tz);
  }
  return solved(m, [a, b, c], [p[0] - tx, p[1] - ty, p[2] - tz]);
}

/** Solves (m I + [r]×) q = p: q = (m² p − m r × p + r (r · p)) / (m (m² + r²)). */
function solved(m: number, r: Three, p: Three): Float64Array<ArrayBuffer> {
  const cross = [r[1] * p[2] - r[2] * p[1], r[2] * p[0] - r[0] * p[2], r[0] * p[1] - r[1] * p[0]];
  const dot = r[0] * p[0] + r[1] * p[1] + r[2] * p[2];
  const by = m * (m * m + r[0] * r[0] + r[1] * r[1] + r[2] * r[2]);
  return Float64Array.from([0, 1, 2], (k) => (m * m * p[k] - m * cross[k] + r[k] * dot) / by);
}

function moved(p: Float64Array, motion: Motion, years: number): Float64Array<ArrayBuffer> {
  if ('mPerYear' in motion) return Float64Array.from(p, (v, k) => v + years * motion.mPerYear[k]);
  const [a, b, c] = PLATE_TURNS_MAS_PER_YEAR[motion.plate].map((v) => v * MAS * years);
  const [x, y, z] = p;
  return Float64Array.of(x - c * y + b * z, y + c * x - a * z, z - b * x + a * y);
}
