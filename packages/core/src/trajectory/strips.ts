import { quantileOfSorted, sortedCopy } from '../numeric/statistics';
import { planDistanceM, speedMps } from './summary';
import { findGaps, type Trajectory } from './trajectory';

export interface StripSettings {
  /** A piece turns when its heading changes faster than this over the window. */
  turnDegPerS: number;
  /** Slower than this is standing. */
  minSpeedMps: number;
  /** Shorter pieces are left out. */
  minLengthM: number;
  /** Over how long turning and climbing are measured, seconds; 1 when not given. */
  windowS?: number;
  /** Steeper, up or down, is climbing; per cent of the way in plan. 0 or not given: nothing is. */
  climbPercent?: number;
  /** Pieces whose height differs by more from that of the others (median by length) are left out; 0 or not given: none. */
  heightBandM?: number;
}

/** Vehicles, boats, and aircraft that fly slowly. */
export const STRIP_DEFAULTS: StripSettings = { turnDegPerS: 6, minSpeedMps: 1, minLengthM: 50 };

/**
 * Aircraft: turns are wide and take long, gusts turn the nose to and fro for a second or two; climb, descent and the way to
 * the site at another height are no lines.
 */
export const FLIGHT_STRIPS: StripSettings = {
  turnDegPerS: 2,
  minSpeedMps: 10,
  minLengthM: 200,
  windowS: 5,
  climbPercent: 6,
  heightBandM: 150,
};

/** Faster than any survey on the ground, and what aircraft do together with banking, m/s. */
const SURELY_FLIES_MPS = 38;
const FLIES_MPS = 18;
const BANK_DEG = 8;

/** Whether a trajectory is that of an aircraft: fast, or rather fast and banked in turns. */
export function isFlight(trajectory: Trajectory): boolean {
  const speeds = sortedCopy(speedMps(trajectory).filter((v) => v > 1));
  if (!speeds.length) return false;
  const usual = quantileOfSorted(speeds, 0.5);
  if (usual > SURELY_FLIES_MPS) return true;
  if (usual < FLIES_MPS || !trajectory.rollRad) return false;
  return quantileOfSorted(sortedCopy(trajectory.rollRad.map(Math.abs)), 0.99) > (BANK_DEG * Math.PI) / 180;
}

/** Rules by the kind of platform, each as given where it is. */
export function stripRulesFor(
  trajectory: Trajectory,
  given: { readonly [K in keyof StripSettings]?: StripSettings[K] } = {},
): StripSettings {
  const out = { ...(isFlight(trajectory) ? FLIGHT_STRIPS : STRIP_DEFAULTS) };
  for (const [key, value] of Object.entries(given)) if (value !== undefined) out[key as keyof StripSettings] = value;
  return out;
}

export type LeftOutReason = 'standing' | 'turning' | 'climbing' | 'too short' | 'another height' | 'gap';

export interface Strip {
  /** From 1; 0 for pieces left out. */
  id: number;
  startSow: number;
  endSow: number;
  lengthM: number;
  /** Mean heading, radians 0…2π. */
  headingRad: number;
  leftOut?: LeftOutReason;
}

export interface StripPlan {
  strips: Strip[];
  leftOut: Strip[];
  /** Strip id for each interval between epochs i and i+1; 0 when left out. */
  idOfInterval: Uint16Array;
}

/**
 * Cuts a trajectory into strips: straight-enough, moving, without gaps and long enough. Every other piece is
 * returned too, with the reason, so that nothing disappears unseen.
 */
export function findStrips(trajectory: Trajectory, rules: StripSettings = STRIP_DEFAULTS): StripPlan {
  const n = trajectory.sow.length;
  const state = intervalStates(trajectory, rules);
  const idOfInterval = new Uint16Array(Math.max(n - 1, 0));
  const strips: Strip[] = [];
  const leftOut: Strip[] = [];
  const band = rules.heightBandM ? heightBand(trajectory, state, rules) : undefined;
  let from = 0;
  while (from < n - 1) {
    let to = from;
    while (to + 1 < n - 1 && state[to + 1] === state[from]) to++;
    const piece = describe(trajectory, from, to + 1);
    const long = piece.lengthM >= rules.minLengthM;
    if (state[from] === MOVING && long && !outside(band, meanHeight(trajectory, from, to + 1))) {
      piece.id = strips.length + 1;
      idOfInterval.fill(piece.id, from, to + 1);
      strips.push(piece);
    } else {
      piece.leftOut = state[from] === MOVING ? (long ? 'another height' : 'too short') : REASONS[state[from]];
      leftOut.push(piece);
    }
    from = to + 1;
  }
  return { strips, leftOut: mergeLeftOut(leftOut), idOfInterval };
}

const MOVING = 0;
const STANDING = 1;
const TURNING = 2;
const GAP = 3;
const CLIMBING = 4;
const REASONS: Record<number, LeftOutReason> = {
  [STANDING]: 'standing',
  [TURNING]: 'turning',
  [GAP]: 'gap',
  [CLIMBING]: 'climbing',
};

type Band = readonly [number, number];
const outside = (band: Band | undefined, h: number) => band !== undefined && (h < band[0] || h > band[1]);

function meanHeight({ hEllM }: Trajectory, from: number, to: number): number {
  let sum = 0;
  for (let i = from; i <= to; i++) sum += hEllM[i];
  return sum / (to - from + 1);
}

/** Heights within the band about the median of long pieces by their length. */
function heightBand(trajectory: Trajectory, state: Uint8Array, rules: StripSettings): Band | undefined {
  const pieces: Array<{ h: number; lengthM: number }> = [];
  for (let from = 0; from < state.length;) {
    let to = from;
    while (to + 1 < state.length && state[to + 1] === state[from]) to++;
    const { lengthM } = describe(trajectory, from, to + 1);
    if (state[from] === MOVING && lengthM >= rules.minLengthM)
      pieces.push({ h: meanHeight(trajectory, from, to + 1), lengthM });
    from = to + 1;
  }
  pieces.sort((a, b) => a.h - b.h);
  let left = pieces.reduce((s, p) => s + p.lengthM, 0) / 2;
  const middle = pieces.find((p) => (left -= p.lengthM) <= 0);
  return middle && [middle.h - rules.heightBandM!, middle.h + rules.heightBandM!];
}

function intervalStates(trajectory: Trajectory, rules: StripSettings): Uint8Array {
  const { sow, headingRad } = trajectory;
  const n = sow.length;
  const speed = speedMps(trajectory);
  const state = new Uint8Array(Math.max(n - 1, 0));
  const limit = (rules.turnDegPerS * Math.PI) / 180;
  const half = (rules.windowS ?? 1) / 2;
  const steep = (rules.climbPercent ?? 0) / 100;
  // the window never reaches over a gap
  const gapAfter = new Set(findGaps(sow).map((g) => g.startSow));
  let back = 0;
  let ahead = 0;
  let first = 0;
  let last = endOfPiece(sow, 0, gapAfter);
  for (let i = 0; i < n - 1; i++) {
    if (i > last) {
      back = first = i;
      last = endOfPiece(sow, i, gapAfter);
    }
    if (i === last) {
      state[i] = GAP;
      continue;
    }
    const middle = (sow[i] + sow[i + 1]) / 2;
    while (back < i && sow[back + 1] <= middle - half) back++;
    ahead = Math.max(ahead, first);
    while (ahead < last && sow[ahead] < middle + half) ahead++;
    const span = sow[ahead] - sow[back];
    const turn = headingRad ? Math.abs(angleDifference(headingRad[ahead], headingRad[back])) / span : 0;
    if (speed[i] < rules.minSpeedMps) state[i] = STANDING;
    else if (turn > limit) state[i] = TURNING;
    else if (steep && Math.abs(trajectory.hEllM[ahead] - trajectory.hEllM[back]) > steep * speed[i] * span)
      state[i] = CLIMBING;
  }
  return state;
}

/** The last epoch before the next gap. */
function endOfPiece(sow: Float64Array, from: number, gapAfter: ReadonlySet<number>): number {
  let i = from;
  while (i < sow.length - 1 && !gapAfter.has(sow[i])) i++;
  return i;
}

function describe(trajectory: Trajectory, from: number, to: number): Strip {
  let lengthM = 0;
  for (let i = from; i < to; i++) lengthM += planDistanceM(trajectory, i, i + 1);
  const dn = trajectory.latRad[to] - trajectory.latRad[from];
  const de = (trajectory.lonRad[to] - trajectory.lonRad[from]) * Math.cos(trajectory.latRad[from]);
  const headingRad = (Math.atan2(de, dn) + 2 * Math.PI) % (2 * Math.PI);
  return { id: 0, startSow: trajectory.sow[from], endSow: trajectory.sow[to], lengthM, headingRad };
}

/** Shorter than this, a piece left out is no more than the end of its neighbour, seconds. */
const FRAGMENT_S = 2;

/** Fragments left out become part of the neighbour that they touch, which is named by the longer; whole pieces stay apart. */
function mergeLeftOut(pieces: Strip[]): Strip[] {
  const out: Strip[] = [];
  for (const piece of pieces) {
    const last = out.at(-1);
    const long = piece.endSow - piece.startSow;
    const before = last ? last.endSow - last.startSow : 0;
    if (
      last &&
      piece.startSow - last.endSow < 1e-6 &&
      (Math.min(long, before) < FRAGMENT_S || piece.leftOut === last.leftOut)
    ) {
      if (long > before) last.leftOut = piece.leftOut;
      last.endSow = piece.endSow;
      last.lengthM += piece.lengthM;
    } else out.push({ ...piece });
  }
  return out;
}

/** Difference a − b of two angles, in (−π, π]. */
export function angleDifference(a: number, b: number): number {
  const d = (a - b) % (2 * Math.PI);
  if (d > Math.PI) return d - 2 * Math.PI;
  if (d <= -Math.PI) return d + 2 * Math.PI;
  return d;
}
