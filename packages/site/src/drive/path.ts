import { roadCentreX, wheelHeight, YARDS } from '../terrain';

/** True motion of the vehicle on a 1 kHz grid; in between straight lines are exact to a micrometre. */
export interface TrueDrive {
  stepS: number;
  startSow: number;
  /** Site coordinates of the inertial reference point. */
  x: Float64Array;
  y: Float64Array;
  heightM: Float64Array;
  rollRad: Float64Array;
  pitchRad: Float64Array;
  /** Grid bearing of the body's x axis, unwrapped, radians. */
  bearingRad: Float64Array;
  speedMps: Float64Array;
  /** Passes of the road. */
  passes: Array<{ startSow: number; endSow: number; northward: boolean }>;
}

/** The inertial reference point above the wheels. */
export const REFERENCE_HEIGHT_M = 1.9;
const STEP = 0.001;
const LANE_M = 1.75;
const ROAD_FROM_Y = 34;
const ROAD_TO_Y = 606;

interface Leg {
  points: Array<[number, number]>;
  speedMps: number;
  pass?: boolean;
}

function lane(side: number, northward: boolean): Array<[number, number]> {
  const points: Array<[number, number]> = [];
  for (let y = ROAD_FROM_Y; y <= ROAD_TO_Y; y += 2) points.push([roadCentreX(y) + side * LANE_M, y]);
  return northward ? points : points.reverse();
}

/** A loop in the yard from the end of one lane to the start of the other, turning left. */
function turn(yard: { x: number; y: number }, north: boolean): Array<[number, number]> {
  const points: Array<[number, number]> = [];
  const radius = 9;
  const cy = yard.y + (north ? 3 : -3);
  const cx = roadCentreX(north ? ROAD_TO_Y : ROAD_FROM_Y);
  for (let k = 0; k <= 24; k++) {
    const a = -0.35 + ((Math.PI + 0.7) * k) / 24;
    const sign = north ? 1 : -1;
    points.push([cx + sign * radius * Math.cos(a), cy + sign * radius * Math.sin(a)]);
  }
  return points;
}

function figureEight(yard: { x: number; y: number }): Array<[number, number]> {
  const points: Array<[number, number]> = [];
  for (let k = 0; k <= 80; k++) {
    const a = (4 * Math.PI * k) / 80;
    const first = a < 2 * Math.PI;
    const r = 7;
    points.push(
      first
        ? [yard.x - r + r * Math.cos(a), yard.y + r * Math.sin(a)]
        : [yard.x + r - r * Math.cos(a), yard.y + r * Math.sin(a)],
    );
  }
  return points;
}

/** The scanners record once the vehicle runs straight, and stop before it turns. */
const PASS_MARGIN_S = 2;
const STILL_BEFORE_S = 60;
const STILL_AFTER_S = 40;

/**
 * The drive: 60 s still, a figure of eight, four passes of the road (two each way) with turns, 40 s still. The
 * vehicle follows its line by pure pursuit with limited, filtered steering, so that position and attitude have
 * continuous second derivatives.
 */
export function trueDrive(startSow: number): TrueDrive {
  const [south, north] = YARDS;
  const legs: Leg[] = [
    { points: figureEight(south), speedMps: 3.6 },
    { points: lane(1, true), speedMps: 8, pass: true },
    { points: turn(north, true), speedMps: 3.6 },
    { points: lane(-1, false), speedMps: 8, pass: true },
    { points: turn(south, false), speedMps: 3.6 },
    { points: lane(1, true), speedMps: 8, pass: true },
    { points: turn(north, true), speedMps: 3.6 },
    { points: lane(-1, false), speedMps: 8, pass: true },
  ];
  const line: Array<[number, number]> = [];
  const speeds: number[] = [];
  const legOf: number[] = [];
  legs.forEach((leg, l) =>
    leg.points.forEach((p) => {
      line.push(p);
      speeds.push(leg.speedMps);
      legOf.push(l);
    }),
  );
  const x: number[] = [],
    y: number[] = [],
    bearing: number[] = [],
    speed: number[] = [],
    legs1: number[] = [];
  let px = south.x,
    py = south.y - 0.5,
    b = 0,
    v = 0,
    curvature = 0,
    acceleration = 0,
    target = 0;
  const put = (leg: number) => {
    x.push(px);
    y.push(py);
    bearing.push(b);
    speed.push(v);
    legs1.push(leg);
  };
  for (let i = 0; i < STILL_BEFORE_S / STEP; i++) put(-1);
  const end = line.length - 1;
  for (let guard = 0; guard < 600 / STEP; guard++) {
    const look = Math.max(3, 0.75 * v + 1.5);
    while (target < end && Math.hypot(line[target][0] - px, line[target][1] - py) < look) target++;
    const last = target === end ? Math.hypot(line[end][0] - px, line[end][1] - py) : Infinity;
    let wanted = speeds[target];
    // slow down in time for what is ahead
    for (let k = target; k < Math.min(end, target + 12); k++)
      if (speeds[k] < wanted)
        wanted = Math.min(wanted, Math.sqrt(speeds[k] ** 2 + 2 * 0.9 * Math.hypot(line[k][0] - px, line[k][1] - py)));
    if (last < 30) wanted = Math.min(wanted, Math.sqrt(2 * 0.8 * Math.max(0, last - 1.5)));
    if (target === end && (v < 0.05 || last < 1.2)) break;
    const ahead = Math.atan2(line[target][0] - px, line[target][1] - py);
    const turnBy = Math.atan2(Math.sin(ahead - b), Math.cos(ahead - b));
    const distance = Math.hypot(line[target][0] - px, line[target][1] - py);
    const curve = Math.max(-0.19, Math.min(0.19, (2 * Math.sin(turnBy)) / distance));
    curvature += ((curve - curvature) * STEP) / 0.35;
    const push = Math.max(-1.2, Math.min(1, (wanted - v) * 1.5));
    acceleration += ((push - acceleration) * STEP) / 0.4;
    v = Math.max(0, v + acceleration * STEP);
    b += curvature * v * STEP;
    px += Math.sin(b) * v * STEP;
    py += Math.cos(b) * v * STEP;
    put(legOf[target]);
  }
  v = Math.max(0, v);
  // come to rest smoothly, then stand
  while (v > 1e-4) {
    v -= Math.min(v, Math.max(0.0003, v * STEP * 2));
    px += Math.sin(b) * v * STEP;
    py += Math.cos(b) * v * STEP;
    put(legs.length - 1);
  }
  v = 0;
  for (let i = 0; i < STILL_AFTER_S / STEP; i++) put(legs.length);
  return finish(startSow, x, y, bearing, speed, legs, legs1);
}

function finish(
  startSow: number,
  x: number[],
  y: number[],
  bearing: number[],
  speed: number[],
  legs: Leg[],
  legOf: number[],
): TrueDrive {
  const n = x.length;
  const heightM = new Float64Array(n),
    rollRad = new Float64Array(n),
    pitchRad = new Float64Array(n);
  const deg = Math.PI / 180;
  for (let i = 0; i < n; i++) {
    const t = i * STEP;
    const h = 0.25;
    const gx = (wheelHeight(x[i] + h, y[i]) - wheelHeight(x[i] - h, y[i])) / (2 * h);
    const gy = (wheelHeight(x[i], y[i] + h) - wheelHeight(x[i], y[i] - h)) / (2 * h);
    const s = Math.sin(bearing[i]),
      c = Math.cos(bearing[i]);
    const lively = Math.min(1, speed[i] / 8);
    heightM[i] = wheelHeight(x[i], y[i]) + REFERENCE_HEIGHT_M + lively * 0.004 * Math.sin(2 * Math.PI * 1.1 * t);
    rollRad[i] =
      -Math.atan(gx * c - gy * s) +
      deg * lively * (0.25 * Math.sin(2 * Math.PI * 0.7 * t) + 0.1 * Math.sin(2 * Math.PI * 1.3 * t + 1));
    pitchRad[i] = Math.atan(gx * s + gy * c) + deg * lively * (0.2 * Math.sin(2 * Math.PI * 0.9 * t + 0.5));
  }
  const passes: TrueDrive['passes'] = [];
  legs.forEach((leg, l) => {
    if (!leg.pass) return;
    const first = legOf.indexOf(l);
    const last = legOf.lastIndexOf(l);
    passes.push({
      startSow: startSow + first * STEP + PASS_MARGIN_S,
      endSow: startSow + last * STEP - PASS_MARGIN_S,
      northward: y[last] > y[first],
    });
  });
  return {
    stepS: STEP,
    startSow,
    x: Float64Array.from(x),
    y: Float64Array.from(y),
    heightM,
    rollRad,
    pitchRad,
    bearingRad: Float64Array.from(bearing),
    speedMps: Float64Array.from(speed),
    passes,
  };
}
