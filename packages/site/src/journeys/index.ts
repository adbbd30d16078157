import { type TrueDrive } from '../drive';
import { SITE_LENGTH_M, SITE_WIDTH_M } from '../terrain';
import { pursue, spansOf, straight, type Leg, type Path } from './pursuit';

export * from './voyage';

const STEP_S = 0.001;
const DEG = Math.PI / 180;
const GRAVITY = 9.81;

/** Height of the flight over the meadow, metres, and its speed. */
export const FLIGHT_HEIGHT_M = 253;
export const FLIGHT_SPEED_MPS = 45;
const FLIGHT_LINES = 6;
const RUN_IN_M = 500;
const TURN_M = 400;
/** The wind pushes the aircraft sideways, so that it points this far off its track. */
const CRAB_DEG = 4;

/**
 * The flight: there, six lines north and south over the whole site and one across, with procedure turns between. Banks
 * into its turns, flies crabbed, and is shaken by gusts; it is in the air from the first epoch to the last.
 */
export function trueFlight(startSow: number): TrueDrive {
  const legs: Leg[] = [];
  const spacing = SITE_WIDTH_M / FLIGHT_LINES;
  // one and a half times round before the first line: an inertial unit finds its heading in turns
  const [cx, cy] = [spacing / 2 + TURN_M, -RUN_IN_M - 1300];
  const round: Array<[number, number]> = [[cx + TURN_M, cy + 300]];
  for (let a = -360; a <= 180; a += 10) round.push([cx + TURN_M * Math.cos(a * DEG), cy - TURN_M * Math.sin(a * DEG)]);
  legs.push({ points: [...round, [cx - TURN_M, cy + 300], [cx - TURN_M, cy + 900]], line: false });
  for (let k = 0; k < FLIGHT_LINES; k++) {
    const x = spacing * (k + 0.5);
    const north = k % 2 === 0;
    const ends: Array<[number, number]> = [
      [x, -RUN_IN_M],
      [x, SITE_LENGTH_M + RUN_IN_M],
    ];
    if (!north) ends.reverse();
    legs.push({ points: straight(ends[0], ends[1], 20), line: true });
    if (k < FLIGHT_LINES - 1) legs.push({ points: teardrop(ends[1], x + spacing, north), line: false });
  }
  // down from the last line, round to the west, and across
  const y = SITE_LENGTH_M / 2;
  legs.push({
    points: [
      ...([
        [SITE_WIDTH_M + 100, -RUN_IN_M - 300],
        [SITE_WIDTH_M + 700, -RUN_IN_M - 100],
      ] as Array<[number, number]>),
      ...straight([SITE_WIDTH_M + 1000, -200], [SITE_WIDTH_M + 900, y - 150], 60),
    ],
    line: false,
  });
  legs.push({ points: straight([SITE_WIDTH_M + RUN_IN_M, y], [-RUN_IN_M, y], 20), line: true });
  const path = pursue({ legs, speedMps: FLIGHT_SPEED_MPS, curvature: 1 / 300, lookM: 140, lagS: 0.9 });
  return finish(startSow, path, legs, FLIGHT_SPEED_MPS, (t, turn) => ({
    heightM: FLIGHT_HEIGHT_M + 1.5 * Math.sin(2 * Math.PI * 0.021 * t) + 0.25 * Math.sin(2 * Math.PI * 0.17 * t),
    rollRad:
      Math.atan((FLIGHT_SPEED_MPS * turn) / GRAVITY) +
      DEG * (1.1 * Math.sin(2 * Math.PI * 0.23 * t) + 0.3 * Math.sin(2 * Math.PI * 0.9 * t + 1)),
    pitchRad: DEG * (2.2 + 0.7 * Math.sin(2 * Math.PI * 0.19 * t + 0.4) + 0.2 * Math.sin(2 * Math.PI * 1.1 * t)),
    yawRad: DEG * (CRAB_DEG + 0.5 * Math.sin(2 * Math.PI * 0.13 * t + 2)),
  }));
}

/** Away to one side, then round to the other until the next line lies ahead: two arcs of one radius. */
function teardrop(from: [number, number], nextX: number, north: boolean): Array<[number, number]> {
  const s = north ? 1 : -1;
  const [x, y] = from;
  const away = Math.acos((nextX - x) / (2 * TURN_M));
  const out: Array<[number, number]> = [];
  for (let a = 0; a < away; a += 5 * DEG) out.push([x - TURN_M * (1 - Math.cos(a)), y + s * TURN_M * Math.sin(a)]);
  const cx = x + TURN_M * (2 * Math.cos(away) - 1);
  const cy = y + s * 2 * TURN_M * Math.sin(away);
  for (let a = 0; a < Math.PI + away; a += 5 * DEG) {
    const h = a - away;
    out.push([cx - TURN_M * Math.cos(h), cy + s * TURN_M * Math.sin(h)]);
  }
  return out;
}

interface Pose {
  heightM: number;
  rollRad: number;
  pitchRad: number;
  /** Bow off the track. */
  yawRad: number;
}

function finish(
  startSow: number,
  path: Path,
  legs: Leg[],
  speedMps: number,
  pose: (t: number, turnRadps: number) => Pose,
): TrueDrive {
  const n = path.x.length;
  const column = () => new Float64Array(n);
  const out: TrueDrive = {
    stepS: STEP_S,
    startSow,
    x: Float64Array.from(path.x),
    y: Float64Array.from(path.y),
    heightM: column(),
    rollRad: column(),
    pitchRad: column(),
    bearingRad: column(),
    speedMps: column().fill(speedMps),
    passes: spansOf(path, legs).map(({ from, to }) => {
      const [a, b] = [from, to].map((s) => path.y[Math.round(s / STEP_S)]);
      return { startSow: startSow + from, endSow: startSow + to, northward: b > a };
    }),
  };
  for (let i = 0; i < n; i++) {
    const p = pose(i * STEP_S, path.turnRadps[i]);
    out.heightM[i] = p.heightM;
    out.rollRad[i] = p.rollRad;
    out.pitchRad[i] = p.pitchRad;
    out.bearingRad[i] = path.bearingRad[i] + p.yawRad;
  }
  return out;
}
