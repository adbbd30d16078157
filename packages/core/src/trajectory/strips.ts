import { planDistanceM, speedMps } from './summary';
import { findGaps, type Trajectory } from './trajectory';

export interface StripSettings {
  /** A piece turns when its heading changes faster than this over one second. */
  turnDegPerS: number;
  /** Slower than this is standing. */
  minSpeedMps: number;
  /** Shorter pieces are left out. */
  minLengthM: number;
}

export const STRIP_DEFAULTS: StripSettings = { turnDegPerS: 6, minSpeedMps: 1, minLengthM: 50 };

export type LeftOutReason = 'standing' | 'turning' | 'too short' | 'gap';

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
  let from = 0;
  while (from < n - 1) {
    let to = from;
    while (to + 1 < n - 1 && state[to + 1] === state[from]) to++;
    const piece = describe(trajectory, from, to + 1);
    if (state[from] === MOVING && piece.lengthM >= rules.minLengthM) {
      piece.id = strips.length + 1;
      idOfInterval.fill(piece.id, from, to + 1);
      strips.push(piece);
    } else {
      piece.leftOut = state[from] === MOVING ? 'too short' : REASONS[state[from]];
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
const REASONS: Record<number, LeftOutReason> = { [STANDING]: 'standing', [TURNING]: 'turning', [GAP]: 'gap' };

function intervalStates(trajectory: Trajectory, rules: StripSettings): Uint8Array {
  const { sow, headingRad } = trajectory;
  const n = sow.length;
  const speed = speedMps(trajectory);
  const state = new Uint8Array(Math.max(n - 1, 0));
  const limit = (rules.turnDegPerS * Math.PI) / 180;
  let back = 0;
  let ahead = 0;
  for (let i = 0; i < n - 1; i++) {
    const middle = (sow[i] + sow[i + 1]) / 2;
    while (back < i && sow[back + 1] <= middle - 0.5) back++;
    while (ahead < n - 1 && sow[ahead] < middle + 0.5) ahead++;
    const span = sow[ahead] - sow[back];
    const turn = headingRad ? Math.abs(angleDifference(headingRad[ahead], headingRad[back])) / span : 0;
    if (speed[i] < rules.minSpeedMps) state[i] = STANDING;
    else if (turn > limit) state[i] = TURNING;
  }
  for (const gap of findGaps(sow)) {
    const i = sow.findIndex((t) => t === gap.startSow);
    if (i >= 0) state[i] = GAP;
  }
  return state;
}

function describe(trajectory: Trajectory, from: number, to: number): Strip {
  let lengthM = 0;
  for (let i = from; i < to; i++) lengthM += planDistanceM(trajectory, i, i + 1);
  const dn = trajectory.latRad[to] - trajectory.latRad[from];
  const de = (trajectory.lonRad[to] - trajectory.lonRad[from]) * Math.cos(trajectory.latRad[from]);
  const headingRad = (Math.atan2(de, dn) + 2 * Math.PI) % (2 * Math.PI);
  return { id: 0, startSow: trajectory.sow[from], endSow: trajectory.sow[to], lengthM, headingRad };
}

/** Neighbouring pieces left out for different reasons within a second become one, named by the longest. */
function mergeLeftOut(pieces: Strip[]): Strip[] {
  const out: Strip[] = [];
  for (const piece of pieces) {
    const last = out.at(-1);
    if (last && piece.startSow - last.endSow < 1e-6) {
      if (piece.endSow - piece.startSow > last.endSow - last.startSow) last.leftOut = piece.leftOut;
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
