import { ecefToNed, geodeticToEcef, type ReferenceSystem } from '@longheron/core/frames';
import type { InertialData } from '@longheron/core/inertial';
import { gaussMarkov, multiply3, Random, transpose3, type Matrix3 } from '@longheron/core/numeric';
import { GPS_WEEK, type TrueDrive } from '../drive';
import { attitude } from '../platform';
import { SITE_ORIGIN_E, SITE_ORIGIN_N } from '../terrain';
import { gravityNed } from './gravity';
import { Vibration } from './vibration';

/** The unit's errors at medium level, 1 SD. */
export const INERTIAL_NOISE = {
  gyroWalkDegPerRootHour: 0.05,
  gyroBiasDegPerHour: 0.5,
  gyroDriftDegPerHour: 0.1,
  accelWalkMpsPerRootHour: 0.03,
  accelBiasMg: 0.3,
  accelDriftMg: 0.03,
  driftTauS: 600,
  scalePpm: 100,
  vibrationG: 0.02,
} as const;

export const INERTIAL_RATE_HZ = 200;

const EARTH_RATE = 7.292115e-5;
const MG = 9.80665e-3;
const DEG_PER_HOUR = Math.PI / 180 / 3600;

export interface UnitOptions {
  seed: number;
  /** 1 medium, 0 a perfect unit. */
  factor: number;
  fromSow?: number;
  toSow?: number;
}

/** Position and attitude of the unit in Earth-fixed axes at one node of the true drive. */
interface Node {
  at: Float64Array;
  toEarth: Matrix3;
  latRad: number;
  hM: number;
  down: [number, number, number];
  north: [number, number, number];
}

/**
 * What the inertial unit on the vehicle measures: angular rate and specific force of the true motion, summed over its
 * 1 ms steps, so that velocity and attitude added up from a perfect unit end exactly where the vehicle is; then scale,
 * bias, drift, noise and vibration.
 */
export function measureDrive(drive: TrueDrive, system: ReferenceSystem, options: UnitOptions): InertialData {
  const per = Math.round(1 / (INERTIAL_RATE_HZ * drive.stepS));
  const last = drive.x.length - 1;
  const nodeOf = (sow: number) => Math.round((sow - drive.startSow) / drive.stepS / per) * per;
  const begin = Math.max(per, nodeOf(options.fromSow ?? -Infinity) || per);
  const end = Math.min(last - (last % per), options.toSow === undefined ? last : nodeOf(options.toSow));
  const count = Math.max(0, Math.floor((end - begin) / per) + 1);
  const out: InertialData = {
    week: GPS_WEEK,
    rateHz: INERTIAL_RATE_HZ,
    sow: new Float64Array(count),
    gyroRadps: new Float64Array(3 * count),
    accelMps2: new Float64Array(3 * count),
  };
  const dt = drive.stepS;
  const node = nodeReader(drive, system);
  let i = begin - per;
  let here = node(i);
  let next = node(i + 1);
  let forceHere = specificForce(node(i - 1), here, next, dt);
  for (let k = 0; k < count; k++) {
    const rate = [0, 0, 0];
    const force = [0, 0, 0];
    for (let s = 0; s < per; s++, i++) {
      const afterNext = node(i + 2);
      const forceNext = specificForce(here, next, afterNext, dt);
      const turn = turnOf(here, next);
      for (let a = 0; a < 3; a++) {
        rate[a] += turn[a] + EARTH_RATE * here.toEarth[6 + a] * dt;
        force[a] += ((forceHere[a] + forceNext[a]) / 2) * dt;
      }
      here = next;
      next = afterNext;
      forceHere = forceNext;
    }
    out.sow[k] = drive.startSow + i * dt;
    for (let a = 0; a < 3; a++) {
      out.gyroRadps[3 * k + a] = rate[a] / (per * dt);
      out.accelMps2[3 * k + a] = force[a] / (per * dt);
    }
  }
  spoil(out, drive, options);
  return out;
}

function nodeReader(drive: TrueDrive, system: ReferenceSystem): (i: number) => Node {
  const geo = new Float64Array(3);
  return (index) => {
    const i = Math.max(0, Math.min(drive.x.length - 1, index));
    system.unproject(drive.x[i] + SITE_ORIGIN_E, drive.y[i] + SITE_ORIGIN_N, drive.heightM[i], geo);
    const [latRad, lonRad, hM] = geo;
    const axes = ecefToNed(latRad, lonRad);
    const heading = drive.bearingRad[i] + system.convergenceAndScale(latRad, lonRad).convergenceRad;
    return {
      at: geodeticToEcef(system.ellipsoid, latRad, lonRad, hM),
      toEarth: multiply3(transpose3(axes), attitude(drive.rollRad[i], drive.pitchRad[i], heading)),
      latRad,
      hM,
      down: [axes[6], axes[7], axes[8]],
      north: [axes[0], axes[1], axes[2]],
    };
  };
}

/** Rotation vector from one node to the next, body axes: small, so the skew part of the matrix will do. */
function turnOf(a: Node, b: Node): [number, number, number] {
  const m = multiply3(transpose3(a.toEarth), b.toEarth);
  return [(m[7] - m[5]) / 2, (m[2] - m[6]) / 2, (m[3] - m[1]) / 2];
}

/** Specific force at a node, body axes, from the places before and after it. */
function specificForce(before: Node, here: Node, after: Node, dt: number): [number, number, number] {
  const [gNorth, gDown] = gravityNed(here.latRad, here.hM);
  const v = [0, 1, 2].map((k) => (after.at[k] - before.at[k]) / (2 * dt));
  const f = [0, 1, 2].map((k) => {
    const acceleration = (after.at[k] - 2 * here.at[k] + before.at[k]) / (dt * dt);
    return acceleration - gNorth * here.north[k] - gDown * here.down[k];
  });
  // Coriolis
  f[0] -= 2 * EARTH_RATE * v[1];
  f[1] += 2 * EARTH_RATE * v[0];
  const c = here.toEarth;
  return [0, 1, 2].map((k) => f[0] * c[k] + f[1] * c[3 + k] + f[2] * c[6 + k]) as [number, number, number];
}

function spoil(out: InertialData, drive: TrueDrive, options: UnitOptions): void {
  const { seed, factor } = options;
  if (factor === 0) return;
  const noise = INERTIAL_NOISE;
  const n = out.sow.length;
  const step = 1 / out.rateHz;
  const white = (perRootHour: number) => perRootHour / 60 / Math.sqrt(step);
  const errors = (name: string, values: Float64Array, unit: number, bias: number, drift: number, walk: number) => {
    for (let a = 0; a < 3; a++) {
      const random = new Random(seed, `inertial ${name} ${a}`);
      const turnOn = factor * bias * unit * random.normal();
      const scale = 1 + factor * noise.scalePpm * 1e-6 * random.normal();
      const wander = gaussMarkov(random, n, step, noise.driftTauS);
      for (let k = 0; k < n; k++)
        values[3 * k + a] =
          scale * values[3 * k + a] + turnOn + factor * (drift * unit * wander[k] + walk * random.normal());
    }
  };
  const gyroWhite = (white(noise.gyroWalkDegPerRootHour) * Math.PI) / 180;
  errors('gyro', out.gyroRadps, DEG_PER_HOUR, noise.gyroBiasDegPerHour, noise.gyroDriftDegPerHour, gyroWhite);
  errors('accel', out.accelMps2, MG, noise.accelBiasMg, noise.accelDriftMg, white(noise.accelWalkMpsPerRootHour));
  const vibration = new Vibration(seed, factor * noise.vibrationG * 9.80665);
  for (let k = 0; k < n; k++) {
    const at = Math.min(drive.speedMps.length - 1, Math.round((out.sow[k] - drive.startSow) / drive.stepS));
    vibration.add(out.sow[k] - drive.startSow, drive.speedMps[at], out.accelMps2, 3 * k);
  }
}
