import { type TrueDrive } from '../drive';
import { waterLevelM } from '../boat/water';
import { pursue, straight, type Leg, type Path } from './pursuit';

const STEP_S = 0.001;
const DEG = Math.PI / 180;

export const BOAT_SPEED_MPS = 3;
/** The last but one line is run at this share of the speed. */
const SLOW = 0.5;
const SLOWING_S = 8;
const [SOUTH_Y, NORTH_Y] = [180, 480];
/** Three lines beside each other; the third is run again the other way, slowly; the fifth goes across. */
const LINES_X = [384, 398, 412];
const ACROSS = { y: 300, fromX: 352, toX: 428 };

/** How high the reference point lies over the water, metres. */
export const REFERENCE_OVER_WATER_M = 1.6;

type Point = [number, number];

/** The voyage: five lines in the channel, with turns; the boat rolls, pitches, heaves and yaws in short waves. */
export function trueVoyage(startSow: number): TrueDrive {
  const [a, b, c] = LINES_X;
  const line = (x: number, north: boolean): Leg => {
    const ends: Point[] = [
      [x, SOUTH_Y],
      [x, NORTH_Y],
    ];
    if (!north) ends.reverse();
    return { points: straight(ends[0], ends[1], 4), line: true };
  };
  const round = (...points: Point[]): Leg => ({ points, line: false });
  const legs: Leg[] = [
    round([a - 4, SOUTH_Y - 60], [a - 2, SOUTH_Y - 40], [a, SOUTH_Y - 20]),
    line(a, true),
    round([a - 8, NORTH_Y + 14], [a + 4, NORTH_Y + 27], [b + 8, NORTH_Y + 24], [b + 4, NORTH_Y + 8]),
    line(b, false),
    round([b - 8, SOUTH_Y - 14], [b + 4, SOUTH_Y - 27], [c + 8, SOUTH_Y - 24], [c + 4, SOUTH_Y - 8]),
    line(c, true),
    // round to come back on the same line
    round(
      [c + 4, NORTH_Y + 14],
      [c + 16, NORTH_Y + 30],
      [c, NORTH_Y + 44],
      [c - 14, NORTH_Y + 30],
      [c - 4, NORTH_Y + 12],
    ),
    line(c, false),
    round(
      [c - 10, SOUTH_Y - 12],
      [b - 14, SOUTH_Y],
      [ACROSS.fromX - 4, SOUTH_Y + 50],
      [ACROSS.fromX - 18, ACROSS.y - 30],
      [ACROSS.fromX - 12, ACROSS.y - 8],
    ),
    { points: straight([ACROSS.fromX, ACROSS.y], [ACROSS.toX, ACROSS.y], 4), line: true },
    round([ACROSS.toX + 12, ACROSS.y]),
  ];
  const path = pursue({ legs, speedMps: BOAT_SPEED_MPS, curvature: 1 / 9, lookM: 10, lagS: 0.7 });
  const lines = legs.flatMap((l, i) => (l.line ? [i] : []));
  const slowLeg = lines[3];
  return ride(startSow, path, legs, slowLeg);
}

/** The path run at its speeds: what is sampled evenly in way becomes even in time. */
function ride(startSow: number, path: Path, legs: Leg[], slowLeg: number): TrueDrive {
  const share = smoothed(path.leg.map((l) => (l === slowLeg ? SLOW : 1)));
  const at: number[] = [];
  for (let p = 0; p < path.x.length - 1; p += share[Math.floor(p)]) at.push(p);
  const n = at.length;
  const column = () => new Float64Array(n);
  const out: TrueDrive = {
    stepS: STEP_S,
    startSow,
    x: column(),
    y: column(),
    heightM: column(),
    rollRad: column(),
    pitchRad: column(),
    bearingRad: column(),
    speedMps: column(),
    passes: [],
  };
  const between = (v: number[], p: number) => {
    const k = Math.floor(p);
    return v[k] + (p - k) * (v[k + 1] - v[k]);
  };
  const spans = new Map<number, [number, number]>();
  for (let i = 0; i < n; i++) {
    const t = i * STEP_S;
    const p = at[i];
    const speed = share[Math.floor(p)];
    const turn = between(path.turnRadps, p) * speed;
    out.x[i] = between(path.x, p);
    out.y[i] = between(path.y, p);
    out.heightM[i] =
      waterLevelM(t) +
      REFERENCE_OVER_WATER_M +
      0.12 * Math.sin(2 * Math.PI * 0.21 * t) +
      0.05 * Math.sin(2 * Math.PI * 0.37 * t + 1);
    out.rollRad[i] =
      DEG * (3 * Math.sin(2 * Math.PI * 0.28 * t) + 0.8 * Math.sin(2 * Math.PI * 0.45 * t + 2)) - 0.1 * turn;
    out.pitchRad[i] = DEG * (1 + 1.4 * Math.sin(2 * Math.PI * 0.24 * t + 0.7));
    out.bearingRad[i] = between(path.bearingRad, p) + DEG * (3 + 1.5 * Math.sin(2 * Math.PI * 0.11 * t));
    out.speedMps[i] = BOAT_SPEED_MPS * speed;
    const leg = path.leg[Math.floor(p)];
    const span = spans.get(leg);
    if (span) span[1] = t;
    else spans.set(leg, [t, t]);
  }
  out.passes = legs.flatMap((l, i) => {
    const span = l.line ? spans.get(i) : undefined;
    if (!span) return [];
    const y = (t: number) => out.y[Math.round(t / STEP_S)];
    return [{ startSow: startSow + span[0], endSow: startSow + span[1], northward: y(span[1]) > y(span[0]) }];
  });
  return out;
}

/** Means over some seconds, twice: a boat gathers way slowly. */
function smoothed(values: number[]): Float64Array {
  const half = Math.round(SLOWING_S / STEP_S / 2);
  let from = Float64Array.from(values);
  for (let pass = 0; pass < 2; pass++) {
    const n = from.length;
    const sums = new Float64Array(n + 1);
    for (let i = 0; i < n; i++) sums[i + 1] = sums[i] + from[i];
    from = from.map((_, i) => {
      const [a, b] = [Math.max(0, i - half), Math.min(n, i + half + 1)];
      return (sums[b] - sums[a]) / (b - a);
    });
  }
  return from;
}
