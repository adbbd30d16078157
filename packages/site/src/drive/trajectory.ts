import { DEG, ecefToNed, geodeticToEcef, type ReferenceSystem } from '@longheron/core/frames';
import { gaussMarkov, Random } from '@longheron/core/numeric';
import { type Trajectory } from '@longheron/core/trajectory';
import { BRIDGE_HALF_WIDTH_M, BRIDGE_Y, smoothStep, SITE_ORIGIN_E, SITE_ORIGIN_N } from '../terrain';
import { GPS_WEEK, NOISE, NOISE_FACTOR, type NoiseLevel } from './noise';
import { type TrueDrive } from './path';

const OUTAGE_S = 9;
const OUTAGE_RAMP_S = 1;

/** The true trajectory at a rate, with the true velocity; no deviations. */
export function trueTrajectory(
  drive: TrueDrive,
  system: ReferenceSystem,
  rateHz = 100,
  fromSow = -Infinity,
  toSow = Infinity,
): Trajectory {
  const every = Math.round(1 / (rateHz * drive.stepS));
  const picks: number[] = [];
  for (let i = 0; i < drive.x.length; i += every) {
    const sow = drive.startSow + i * drive.stepS;
    if (sow >= fromSow && sow <= toSow) picks.push(i);
  }
  const n = picks.length;
  const make = () => new Float64Array(n);
  const t = {
    week: GPS_WEEK,
    sow: make(),
    latRad: make(),
    lonRad: make(),
    hEllM: make(),
    rollRad: make(),
    pitchRad: make(),
    headingRad: make(),
    vnMps: make(),
    veMps: make(),
    vdMps: make(),
    solution: new Uint8Array(n).fill(1),
    satellites: new Uint8Array(n).fill(17),
    crs: 'EPSG:4937',
    epoch: 2026.45,
    point: 'imu',
  } satisfies Trajectory;
  const geo = new Float64Array(3);
  const a = new Float64Array(3),
    b = new Float64Array(3);
  const at = (i: number, out: Float64Array) => {
    const k = Math.min(drive.x.length - 1, Math.max(0, i));
    system.unproject(drive.x[k] + SITE_ORIGIN_E, drive.y[k] + SITE_ORIGIN_N, drive.heightM[k], geo);
    return geodeticToEcef(system.ellipsoid, geo[0], geo[1], geo[2], out);
  };
  picks.forEach((i, k) => {
    const before = Math.max(0, i - 1),
      after = Math.min(drive.x.length - 1, i + 1);
    at(before, a);
    at(after, b);
    const dt = (after - before) * drive.stepS;
    const v = [(b[0] - a[0]) / dt, (b[1] - a[1]) / dt, (b[2] - a[2]) / dt];
    system.unproject(drive.x[i] + SITE_ORIGIN_E, drive.y[i] + SITE_ORIGIN_N, drive.heightM[i], geo);
    const axes = ecefToNed(geo[0], geo[1]);
    t.sow[k] = drive.startSow + i * drive.stepS;
    [t.latRad[k], t.lonRad[k], t.hEllM[k]] = geo;
    t.rollRad[k] = drive.rollRad[i];
    t.pitchRad[k] = drive.pitchRad[i];
    const heading = drive.bearingRad[i] + system.convergenceAndScale(geo[0], geo[1]).convergenceRad;
    t.headingRad[k] = ((heading % (2 * Math.PI)) + 2 * Math.PI) % (2 * Math.PI);
    t.vnMps[k] = axes[0] * v[0] + axes[1] * v[1] + axes[2] * v[2];
    t.veMps[k] = axes[3] * v[0] + axes[4] * v[1] + axes[5] * v[2];
    t.vdMps[k] = axes[6] * v[0] + axes[7] * v[1] + axes[8] * v[2];
  });
  return t;
}

/** Spans without GNSS: from entering under the deck, 9 s each pass. */
export function outages(drive: TrueDrive): Array<{ startSow: number; endSow: number }> {
  const out: Array<{ startSow: number; endSow: number }> = [];
  let inside = false;
  for (let i = 0; i < drive.y.length; i++) {
    const under = Math.abs(drive.y[i] - BRIDGE_Y) < BRIDGE_HALF_WIDTH_M + 1;
    if (under && !inside) {
      const startSow = drive.startSow + i * drive.stepS;
      out.push({ startSow, endSow: startSow + OUTAGE_S });
    }
    inside = under;
  }
  return out;
}

/**
 * The "processed" trajectory: the truth plus Gauss–Markov errors drawn from exactly the deviations it states, twice
 * as large inside the outages.
 */
export function processedTrajectory(
  truth: Trajectory,
  gaps: Array<{ startSow: number; endSow: number }>,
  seed: number,
  level: NoiseLevel = 'medium',
): Trajectory {
  const n = truth.sow.length;
  const factor = NOISE_FACTOR[level];
  const step = n > 1 ? truth.sow[1] - truth.sow[0] : 1;
  const series = (name: string, tau: number) => gaussMarkov(new Random(seed, `trajectory ${name}`), n, step, tau);
  const north = series('north', NOISE.trajectoryPositionTauS),
    east = series('east', NOISE.trajectoryPositionTauS),
    down = series('down', NOISE.trajectoryPositionTauS);
  const roll = series('roll', NOISE.trajectoryAttitudeTauS),
    pitch = series('pitch', NOISE.trajectoryAttitudeTauS),
    heading = series('heading', NOISE.trajectoryAttitudeTauS);
  const out: Trajectory = {
    ...truth,
    latRad: truth.latRad.slice(),
    lonRad: truth.lonRad.slice(),
    hEllM: truth.hEllM.slice(),
    rollRad: truth.rollRad!.slice(),
    pitchRad: truth.pitchRad!.slice(),
    headingRad: truth.headingRad!.slice(),
    sdNM: new Float64Array(n),
    sdEM: new Float64Array(n),
    sdDM: new Float64Array(n),
    sdRollRad: new Float64Array(n),
    sdPitchRad: new Float64Array(n),
    sdHeadingRad: new Float64Array(n),
    solution: truth.solution!.slice(),
    satellites: truth.satellites!.slice(),
    source: 'made-up processed trajectory of the demo site',
  };
  const a = 6378137,
    e2 = 0.00669438;
  for (let i = 0; i < n; i++) {
    const t = truth.sow[i];
    let worse = 0;
    for (const gap of gaps) {
      worse = Math.max(
        worse,
        Math.min(
          smoothStep((t - gap.startSow + OUTAGE_RAMP_S) / OUTAGE_RAMP_S),
          smoothStep((gap.endSow + OUTAGE_RAMP_S - t) / OUTAGE_RAMP_S),
        ),
      );
      if (t >= gap.startSow && t < gap.endSow) {
        out.solution![i] = 4;
        out.satellites![i] = 0;
      }
    }
    const scale = factor * (1 + worse);
    const sdN = scale * NOISE.trajectoryNorthM,
      sdE = scale * NOISE.trajectoryEastM,
      sdD = scale * NOISE.trajectoryDownM;
    const sdRp = scale * NOISE.trajectoryRollPitchDeg * DEG,
      sdH = scale * NOISE.trajectoryHeadingDeg * DEG;
    const lat = truth.latRad[i];
    const w = Math.sqrt(1 - e2 * Math.sin(lat) ** 2);
    out.latRad[i] += (north[i] * sdN) / ((a * (1 - e2)) / w ** 3 + truth.hEllM[i]);
    out.lonRad[i] += (east[i] * sdE) / ((a / w + truth.hEllM[i]) * Math.cos(lat));
    out.hEllM[i] -= down[i] * sdD;
    out.rollRad![i] += roll[i] * sdRp;
    out.pitchRad![i] += pitch[i] * sdRp;
    out.headingRad![i] = (out.headingRad![i] + heading[i] * sdH + 2 * Math.PI) % (2 * Math.PI);
    out.sdNM![i] = sdN;
    out.sdEM![i] = sdE;
    out.sdDM![i] = sdD;
    out.sdRollRad![i] = out.sdPitchRad![i] = sdRp;
    out.sdHeadingRad![i] = sdH;
  }
  return out;
}
