import { type ReferenceSystem } from '@longheron/core/frames';
import { gaussMarkov, Random } from '@longheron/core/numeric';
import { type Cast, type Motion, type Navigation } from '@longheron/core/sonar';
import { GPS_WEEK, type TrueDrive } from '../drive';
import { REFERENCE_OVER_WATER_M } from '../journeys/voyage';
import { SITE_ORIGIN_E, SITE_ORIGIN_N } from '../terrain';
import { trueSpeed, waterLevelM, type Tide } from './water';

const DEG = Math.PI / 180;
/** What the sensors beside the sonar are good for, 1 SD. */
const NOISE = {
  planM: 0.35,
  heightM: 0.6,
  rollDeg: 0.02,
  pitchDeg: 0.02,
  headingDeg: 0.06,
  heaveM: 0.03,
  castMps: 0.1,
};
const MOTION_HZ = 50;
const FIX_HZ = 2;
const TAU_S = 40;

/** Navigation as the boat saw it while it ran, and what its motion sensor said. */
export function realTime(
  drive: TrueDrive,
  system: ReferenceSystem,
  span: { startSow: number; endSow: number },
  seed: number,
  factor: number,
): { navigation: Navigation; motion: Motion } {
  const at = (t: number) => Math.min(drive.x.length - 1, Math.max(0, Math.round((t - drive.startSow) / drive.stepS)));
  const times = (rate: number) => {
    const first = Math.ceil((span.startSow - 2) * rate);
    const last = Math.floor((span.endSow + 2) * rate);
    return Float64Array.from({ length: last - first + 1 }, (_, i) => (first + i) / rate);
  };
  const wander = (n: number, sd: number, rate: number, name: string) =>
    gaussMarkov(new Random(seed, `${name} ${span.startSow}`), n, 1 / rate, TAU_S).map((v) => factor * sd * v);
  const fixes = times(FIX_HZ);
  const geo = new Float64Array(3);
  const [e, n, h] = ['east', 'north', 'height'].map((name, k) =>
    wander(fixes.length, k < 2 ? NOISE.planM : NOISE.heightM, FIX_HZ, name),
  );
  const navigation: Navigation = {
    week: GPS_WEEK,
    sow: fixes,
    latRad: new Float64Array(fixes.length),
    lonRad: new Float64Array(fixes.length),
    hEllM: new Float64Array(fixes.length),
    headingRad: new Float64Array(fixes.length),
    planSdM: NOISE.planM,
    heightSdM: NOISE.heightM,
  };
  const heading = (i: number) => {
    const { convergenceRad } = system.convergenceAndScale(geo[0], geo[1]);
    const full = 2 * Math.PI;
    return (((drive.bearingRad[i] + convergenceRad) % full) + full) % full;
  };
  fixes.forEach((t, k) => {
    const i = at(t);
    system.unproject(
      drive.x[i] + SITE_ORIGIN_E + e[k],
      drive.y[i] + SITE_ORIGIN_N + n[k],
      drive.heightM[i] + h[k],
      geo,
    );
    [navigation.latRad[k], navigation.lonRad[k], navigation.hEllM[k]] = geo;
    navigation.headingRad[k] = heading(i);
  });
  const sow = times(MOTION_HZ);
  const columns = ['roll', 'pitch', 'heading', 'heave'].map((name, k) =>
    wander(
      sow.length,
      [NOISE.rollDeg * DEG, NOISE.pitchDeg * DEG, NOISE.headingDeg * DEG, NOISE.heaveM][k],
      MOTION_HZ,
      name,
    ),
  );
  const motion: Motion = {
    week: GPS_WEEK,
    sow,
    rollRad: sow.map((t, k) => drive.rollRad[at(t)] + columns[0][k]),
    pitchRad: sow.map((t, k) => drive.pitchRad[at(t)] + columns[1][k]),
    headingRad: sow.map((t, k) => heading(at(t)) + columns[2][k]),
    heaveM: sow.map(
      (t, k) => drive.heightM[at(t)] - waterLevelM(t - drive.startSow) - REFERENCE_OVER_WATER_M + columns[3][k],
    ),
    rollSdRad: NOISE.rollDeg * DEG,
    pitchSdRad: NOISE.pitchDeg * DEG,
    headingSdRad: NOISE.headingDeg * DEG,
    heaveSdM: NOISE.heaveM,
  };
  return { navigation, motion };
}

/** Casts: one before the first line; the next only when the crossing is run, long after the water has changed. */
export function castsOf(drive: TrueDrive, system: ReferenceSystem, tide: Tide, seed: number, factor: number): Cast[] {
  const when = [drive.passes[0].startSow - 6, drive.passes[4].startSow - 8];
  return when.map((sow, k) => {
    const random = new Random(seed, `cast ${k}`);
    const i = Math.max(0, Math.round((sow - drive.startSow) / drive.stepS));
    const geo = new Float64Array(3);
    system.unproject(drive.x[i] + SITE_ORIGIN_E, drive.y[i] + SITE_ORIGIN_N, 0, geo);
    const whole = factor * NOISE.castMps * random.normal();
    const depthM = Float64Array.from({ length: 45 }, (_, j) => 0.25 + 0.25 * j);
    return {
      name: `C${k + 1}`,
      week: GPS_WEEK,
      sow,
      latRad: geo[0],
      lonRad: geo[1],
      depthM,
      speedMps: depthM.map((z) => trueSpeed(z, sow - drive.startSow, tide) + whole + factor * 0.03 * random.normal()),
      sdMps: NOISE.castMps,
    };
  });
}

/** The water changes in the first turn. */
export const tideOf = (drive: TrueDrive): Tide => ({
  fromS: drive.passes[0].endSow - drive.startSow,
  toS: drive.passes[1].startSow - drive.startSow,
});
