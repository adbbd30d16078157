import { type ReferenceSystem, type SensorMounting } from '@longheron/core/frames';
import { Random } from '@longheron/core/numeric';
import { type Pings } from '@longheron/core/sonar';
import { GPS_WEEK, type TrueDrive } from '../drive';
import { SITE_ORIGIN_E, SITE_ORIGIN_N } from '../terrain';
import { BED, lastBed } from './bed';
import { LATENCY_S, TrueBoat, TRUE_HEAD } from './head';
import { Sound } from './sound';
import { trueSpeed, waterLevelM, type Tide } from './water';

const DEG = Math.PI / 180;

/** The echo sounder. */
export const SOUNDER = {
  name: 'demo multibeam',
  frequencyHz: 400_000,
  beams: 256,
  halfSwathDeg: 65,
  pingsPerS: 10,
  beamwidthDeg: 1,
  pulseS: 0.00003,
  rangeM: 0.015,
  angleDeg: 0.05,
  surfaceMps: 0.05,
};
/** Single beams, and runs of beams, that hear something in the water: shares of all beams and of pings. */
const FLYERS = 0.002;
const FLYER_RUNS = 0.004;
/** Beams that hear nothing. */
const SILENT = 0.004;
/** Strength of an echo by what it comes from, decibels. */
const STRENGTH_DB: { [kind: number]: number } = {
  [BED.sand]: -24,
  [BED.stone]: -16,
  [BED.pipe]: -12,
  [BED.pier]: -10,
  [BED.frame]: -8,
  [BED.anchor]: -8,
  [BED.tyre]: -14,
  [BED.land]: -30,
};

/** A recording with what is true of it: place and kind of each detection; kind 255 where it is a flyer. */
export interface TrueSoundings {
  pings: Pings;
  eastingM: Float64Array;
  northingM: Float64Array;
  heightM: Float64Array;
  kind: Uint8Array;
}
export const FLYER = 255;

/** Another head than the demo's. */
export interface HeadPlan {
  beams?: number;
  pingsPerS?: number;
  mounting?: SensorMounting;
  latencyS?: number;
}

/** Sounds a line from a time to another. @param factor of the noise, 0 for none: then no flyers either. */
export function soundLine(
  drive: TrueDrive,
  system: ReferenceSystem,
  span: { startSow: number; endSow: number },
  tide: Tide,
  seed: number,
  factor: number,
  progress?: (f: number) => void,
  { beams = SOUNDER.beams, pingsPerS = SOUNDER.pingsPerS, mounting = TRUE_HEAD, latencyS = LATENCY_S }: HeadPlan = {},
): TrueSoundings {
  const random = new Random(seed, `soundings ${span.startSow}`);
  const boat = new TrueBoat(drive, system, mounting);
  const sound = new Sound();
  const n = Math.floor((span.endSow - span.startSow) * pingsPerS);
  const all = n * beams;
  const out: TrueSoundings = {
    pings: {
      week: GPS_WEEK,
      first: 0,
      beams,
      sow: new Float64Array(n),
      tiltDeg: new Float64Array(n),
      surfaceMps: new Float64Array(n),
      angleDeg: new Float32Array(all),
      travelS: new Float64Array(all).fill(Number.NaN),
      quality: new Uint8Array(all),
      intensityDb: new Float32Array(all),
    },
    eastingM: new Float64Array(all).fill(Number.NaN),
    northingM: new Float64Array(all).fill(Number.NaN),
    heightM: new Float64Array(all).fill(Number.NaN),
    kind: new Uint8Array(all),
  };
  const { pings } = out;
  for (let i = 0; i < n; i++) {
    if (i % 20 === 0) progress?.(i / n);
    const t = span.startSow + i / pingsPerS;
    const since = t - drive.startSow;
    const { near, at } = boat.surroundings(t);
    const body = boat.body(t);
    const arm = boat.arm(body);
    const head = boat.head(body);
    // the reference point against the middle of the surroundings
    const here = toLocal(near.c, at);
    const from = [here[0] + arm[0], here[1] + arm[1], here[2] + arm[2]];
    const depth = waterLevelM(since) - (at[2] - arm[2]);
    const speedAt = (z: number) => trueSpeed(z, since, tide);
    sound.water(speedAt, depth);
    const headSpeed = speedAt(depth);
    // steered ahead and back to stay upright in pitch, as far as two degrees
    const tilt = Math.max(-2, Math.min(2, -0.6 * (Math.asin(-body[6]) / DEG)));
    pings.sow[i] = t + latencyS;
    pings.tiltDeg[i] = tilt;
    pings.surfaceMps[i] = headSpeed + factor * SOUNDER.surfaceMps * random.normal();
    const x = Math.sin(tilt * DEG);
    const run = random.uniform() < FLYER_RUNS * factor ? Math.floor(beams * random.uniform()) : -10;
    const runAt = 0.25 + 0.6 * random.uniform();
    for (let b = 0; b < beams; b++) {
      const k = i * beams + b;
      const lean = SOUNDER.halfSwathDeg * ((2 * b) / (beams - 1) - 1) * DEG;
      const y = Math.sin(lean);
      const z = Math.sqrt(1 - x * x - y * y);
      const way = [0, 1, 2].map((r) => head[3 * r] * x + head[3 * r + 1] * y + head[3 * r + 2] * z);
      if (!sound.send(near, from, way, headSpeed)) continue;
      const { met } = sound;
      const kind = lastBed;
      // what the head hears comes back when it has turned on
      const back = boat.head(boat.body(t + 2 * met.timeS));
      const side = way[0] * back[1] + way[1] * back[4] + way[2] * back[7];
      const angle = Math.asin(side) / DEG + factor * SOUNDER.angleDeg * random.normal();
      let oneWay = met.timeS + (factor * SOUNDER.rangeM * random.normal()) / headSpeed;
      const silent = random.uniform() < SILENT * factor || kind === BED.land;
      const lone = random.uniform() < FLYERS * factor;
      const off = lone ? (random.uniform() < 0.8 ? 0.2 + 0.7 * random.uniform() : 1.05 + 0.3 * random.uniform()) : 1;
      const inRun = Math.abs(b - run) <= 2;
      if (inRun) oneWay *= runAt;
      else if (lone) oneWay *= off;
      const flyer = lone || inRun;
      pings.angleDeg[k] = angle;
      if (silent) continue;
      pings.travelS[k] = 2 * oneWay;
      pings.quality[k] = flyer && random.uniform() < 0.3 ? 1 : 3;
      pings.intensityDb![k] =
        STRENGTH_DB[kind] + 10 * Math.log10(Math.cos(lean) ** 2) - (flyer ? 12 : 0) + 2 * factor * random.normal();
      out.eastingM[k] = met.eastingM;
      out.northingM[k] = met.northingM;
      out.heightM[k] = met.heightM;
      out.kind[k] = flyer ? FLYER : kind;
    }
  }
  return out;
}

/** Metres north, east, down at which the surroundings hold a place: their map turned round, by steps. */
function toLocal(c: Float64Array, site: readonly number[]): [number, number, number] {
  const want = [site[0] + SITE_ORIGIN_E, site[1] + SITE_ORIGIN_N, site[2]];
  let [n, e, d] = [0, 0, 0];
  for (let i = 0; i < 5; i++) {
    const off = [0, 1, 2].map((k) => {
      const o = 10 * k;
      return (
        want[k] -
        (c[o] +
          c[o + 1] * n +
          c[o + 2] * e +
          c[o + 3] * d +
          c[o + 4] * n * n +
          c[o + 5] * e * e +
          c[o + 6] * d * d +
          c[o + 7] * n * e +
          c[o + 8] * n * d +
          c[o + 9] * e * d)
      );
    });
    // the map is nearly a turn by the convergence: easting grows with e, northing with n, height against d
    const det = c[2] * c[11] - c[1] * c[12];
    e += (off[0] * c[11] - off[1] * c[1]) / det;
    n += (off[1] * c[2] - off[0] * c[12]) / det;
    d -= off[2];
  }
  return [n, e, d];
}
