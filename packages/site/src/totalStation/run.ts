import { geodeticToEcef, GRS80, type ReferenceSystem } from '@longheron/core/frames';
import { Random } from '@longheron/core/numeric';
import { NOISE_FACTOR, type NoiseLevel } from '../drive/noise';
import { trueMarks } from '../marks';
import { groundAt, SITE_ORIGIN_E, SITE_ORIGIN_N } from '../terrain';

/** A point of the run as it truly lies, metres on the site and above sea. */
export interface RunPoint {
  name: string;
  x: number;
  y: number;
  heightM: number;
  code?: string;
}

export interface RunSetUp {
  id: string;
  station: string;
  /** As noted. */
  instrumentHeightM: number;
  backsight: string;
  /** True azimuth of the circle's zero, which nobody notes. */
  zeroDeg: number;
}

/** One pointing as the instrument showed it, degrees and metres. */
export interface RunReading {
  setUp: string;
  target: string;
  targetHeightM: number;
  face: 1 | 2;
  circleDeg: number;
  zenithDeg: number;
  slopeM: number;
  code?: string;
}

export interface TotalStationRun {
  points: RunPoint[];
  setUps: RunSetUp[];
  readings: RunReading[];
  /** Errors planted on purpose. */
  planted: Array<{ what: 'target height' | 'backsight'; setUp: string; target: string; offM: number }>;
}

/** What goes wrong: a target's height noted wrongly, or another point sighted than noted as the backsight. */
export interface RunFaults {
  targetHeight?: { setUp: string; target: string; offM: number };
  backsight?: { setUp: string; target: string; sighted: string };
}

/** In the demo: from the fourth set-up the height of the target over the next station is noted wrongly. */
export const WRONG_TARGET = { setUp: 'S4', target: 'T4', offM: 0.1 } as const;

/** Errors of the instrument, 1 SD: a pointing, a distance, centring, heights; and those of its axes. */
const POINTING_DEG = 0.0006;
const DISTANCE_M = 0.0015;
const DISTANCE_PPM = 2;
const CENTRING_M = 0.001;
const HEIGHT_M = 0.001;
const COLLIMATION_DEG = 0.0021;
const INDEX_DEG = -0.0034;
const REFRACTION = 0.13;
const MEAN_RADIUS_M = 6_378_000;

const peg = (name: string, x: number, y: number, code?: string): RunPoint => ({
  name,
  x,
  y,
  heightM: groundAt(x, y),
  code,
});

/** Stations from the depot to the water's edge and back, prisms on posts along it, and the marks that are sighted. */
export function runPoints(): RunPoint[] {
  const marks = trueMarks().filter((m) => ['C6', 'C7', 'C5', 'K13'].includes(m.name));
  return [
    ...marks.map(({ name, x, y, heightM }) => ({ name, x, y, heightM })),
    peg('T1', 201, 418),
    peg('T2', 252, 358),
    peg('T3', 271, 262),
    peg('T4', 266, 176),
    peg('T5', 226, 232),
    peg('T6', 197, 338),
    ...Array.from({ length: 8 }, (_, k) => {
      const p = peg(`P${k + 1}`, 279 + (k % 2) * 5, 188 + 13 * k, 'prism');
      return { ...p, heightM: p.heightM + 1.2 };
    }),
  ];
}

/** Points, and set-ups with what each sights: the point behind first. */
export interface RunPlan {
  points: readonly RunPoint[];
  sights: ReadonlyArray<readonly [station: string, heightM: number, sights: readonly string[]]>;
}

const SIGHTS: RunPlan['sights'] = [
  ['C6', 1.563, ['C7', 'C5', 'T1', 'T6']],
  ['T1', 1.611, ['C6', 'T2']],
  ['T2', 1.584, ['T1', 'T3', 'P8', 'P7']],
  ['T3', 1.522, ['T2', 'T4', 'P1', 'P2', 'P3', 'P4', 'P5', 'P6', 'P7', 'P8']],
  ['T4', 1.607, ['T3', 'T5', 'K13', 'P1', 'P2', 'P3', 'P4', 'P5', 'P6']],
  ['T5', 1.549, ['T4', 'T6', 'T3']],
  ['T6', 1.598, ['T5', 'C6']],
];
const SETS = 2;

/** The run as it was observed, in both faces, two sets each. */
export function totalStationRun(
  seed: number,
  level: NoiseLevel,
  system: ReferenceSystem,
  faults: RunFaults = {},
  plan: RunPlan = { points: runPoints(), sights: SIGHTS },
): TotalStationRun {
  const factor = NOISE_FACTOR[level];
  const random = new Random(seed, 'total station');
  const points = [...plan.points];
  const places = new Map(points.map((p) => [p.name, placeOf(p, system)]));
  const planted: TotalStationRun['planted'] = [];
  const readings: RunReading[] = [];
  const setUps = plan.sights.map(([station, instrumentHeightM, sights], k): RunSetUp => {
    const id = `S${k + 1}`;
    const zero = random.between(0, 360);
    const off = [0, 1].map(() => factor * CENTRING_M * random.normal());
    const truly = instrumentHeightM + factor * HEIGHT_M * random.normal();
    const bend = REFRACTION + 0.02 * random.normal();
    const list = sights.map((target) => {
      const fixed = /^P/.test(target);
      const stated = fixed ? 0 : 1.3 + 0.05 * Math.round(random.between(0, 8));
      const own = [0, 1].map(() => (fixed ? 0 : factor * CENTRING_M * random.normal()));
      const height = stated + (fixed ? 0 : factor * HEIGHT_M * random.normal());
      const wrong = faults.targetHeight;
      const isWrong = wrong?.setUp === id && wrong.target === target;
      if (isWrong) planted.push({ what: 'target height', setUp: id, target, offM: wrong.offM });
      const other = faults.backsight;
      const isOther = other?.setUp === id && other.target === target;
      const sighted = isOther ? other.sighted : target;
      if (isOther) {
        const [a, b] = [target, other.sighted].map((n) => points.find((p) => p.name === n)!);
        planted.push({ what: 'backsight', setUp: id, target, offM: Math.hypot(a.x - b.x, a.y - b.y) });
      }
      const truth = see(places.get(station)!, places.get(sighted)!, truly, height, off, own, bend);
      return { target, stated: stated + (isWrong ? wrong.offM : 0), truth };
    });
    for (let set = 0; set < SETS; set++)
      for (const face of [1, 2] as const)
        for (const { target, stated, truth } of face === 1 ? list : [...list].reverse()) {
          const turn = face === 1 ? 1 : -1;
          const sin = Math.sin((truth.zenithDeg * Math.PI) / 180);
          const noise = () => factor * POINTING_DEG * random.normal();
          const circle =
            truth.bearingDeg - zero + (turn * COLLIMATION_DEG) / sin + (face === 2 ? 180 : 0) + noise() / sin;
          const zenith = (face === 1 ? truth.zenithDeg : 360 - truth.zenithDeg) + INDEX_DEG + noise();
          readings.push({
            setUp: id,
            target,
            targetHeightM: stated,
            face,
            circleDeg: ((circle % 360) + 360) % 360,
            zenithDeg: zenith,
            slopeM:
              truth.slopeM + factor * Math.hypot(DISTANCE_M, DISTANCE_PPM * 1e-6 * truth.slopeM) * random.normal(),
            code: points.find((p) => p.name === target)?.code,
          });
        }
    return { id, station, instrumentHeightM, backsight: sights[0], zeroDeg: zero };
  });
  return { points, setUps, readings, planted };
}

interface Placed {
  xyz: Float64Array;
  /** North, east, up in Earth-centred axes. */
  axes: [number[], number[], number[]];
}

function placeOf(p: RunPoint, system: ReferenceSystem): Placed {
  const geo = new Float64Array(3);
  system.unproject(SITE_ORIGIN_E + p.x, SITE_ORIGIN_N + p.y, p.heightM, geo);
  const [sinLat, cosLat, sinLon, cosLon] = [Math.sin(geo[0]), Math.cos(geo[0]), Math.sin(geo[1]), Math.cos(geo[1])];
  return {
    xyz: geodeticToEcef(GRS80, geo[0], geo[1], geo[2]),
    axes: [
      [-sinLat * cosLon, -sinLat * sinLon, cosLat],
      [-sinLon, cosLon, 0],
      [cosLat * cosLon, cosLat * sinLon, sinLat],
    ],
  };
}

/** Bearing, zenith angle and slope distance from an instrument to a target, both a little beside their marks. */
function see(
  from: Placed,
  to: Placed,
  instrumentM: number,
  targetM: number,
  off: readonly number[],
  own: readonly number[],
  refraction: number,
): { bearingDeg: number; zenithDeg: number; slopeM: number } {
  const shifted = ({ xyz, axes: [n, e, u] }: Placed, north: number, east: number, up: number) =>
    [0, 1, 2].map((k) => xyz[k] + north * n[k] + east * e[k] + up * u[k]);
  const a = shifted(from, off[0], off[1], instrumentM);
  const b = shifted(to, own[0], own[1], targetM);
  const d = b.map((v, k) => v - a[k]);
  const [n, e, u] = from.axes.map((axis) => axis.reduce((s, v, k) => s + v * d[k], 0));
  const flat = Math.sqrt(n * n + e * e);
  const slopeM = Math.sqrt(flat * flat + u * u);
  const zenith = Math.atan2(flat, u) - (refraction * flat) / (2 * MEAN_RADIUS_M);
  return { bearingDeg: (Math.atan2(e, n) * 180) / Math.PI, zenithDeg: (zenith * 180) / Math.PI, slopeM };
}
