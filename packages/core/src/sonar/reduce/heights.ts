import { WEEK_S } from '../../time';
import { intervalAt, type Trajectory } from '../../trajectory/trajectory';
import { type Motion, type Navigation } from '../pings';

/** Levels of the water above a datum; times are GPS seconds since 1980. */
export interface Levels {
  gpsS: Float64Array;
  levelM: Float64Array;
  /** Of the datum above the ellipsoid; null when it is not known: heights then count from the datum. */
  datumEllM: number | null;
  sdM: number;
}

/** Deviation of a gauge that states none, metres. */
export const LEVEL_SD_M = 0.02;
/** Between readings further apart than this nothing is interpolated, seconds. */
export const LONGEST_LEVEL_GAP_S = 3600;

/** Value at a time, straight between neighbours, the nearest beyond the ends. Times rise. */
export function between(times: Float64Array, values: Float64Array, t: number): number {
  const n = times.length;
  if (n === 1 || !(t > times[0])) return values[0];
  const k = intervalAt(times, t);
  if (k < 0) return values[n - 1];
  const u = (t - times[k]) / (times[k + 1] - times[k]);
  return values[k] + u * (values[k + 1] - values[k]);
}

/** Level at a time; NaN before the first reading, after the last, and in a gap of more than an hour. */
export function levelAt({ gpsS, levelM }: Pick<Levels, 'gpsS' | 'levelM'>, t: number): number {
  const k = intervalAt(gpsS, t);
  if (k < 0) return gpsS.length === 1 && t === gpsS[0] ? levelM[0] : Number.NaN;
  const bridged = gpsS[k + 1] - gpsS[k] > LONGEST_LEVEL_GAP_S && gpsS[k] !== t && gpsS[k + 1] !== t;
  return bridged ? Number.NaN : between(gpsS, levelM, t);
}

/** Between fixes by a cubic whose slopes come from the neighbours of the neighbours (Catmull & Rom 1974, steps of any length). */
function curveBetween(times: Float64Array, values: Float64Array, k: number, t: number): number {
  const n = times.length;
  const slope = (i: number) => {
    const [a, b] = [Math.max(i - 1, 0), Math.min(i + 1, n - 1)];
    return (values[b] - values[a]) / (times[b] - times[a]);
  };
  const dt = times[k + 1] - times[k];
  const u = (t - times[k]) / dt;
  const [m0, m1] = [slope(k) * dt, slope(k + 1) * dt];
  const d = values[k + 1] - values[k];
  return values[k] + u * (m0 + u * (3 * d - 2 * m0 - m1 + u * (m0 + m1 - 2 * d)));
}

/**
 * The path of the reference point from real-time navigation and motion, as a trajectory at the times of the motion: place
 * on a curve through the fixes, height = datum + level + waterline + heave. Where the gauge says nothing its height is NaN.
 * @param levels undefined: heights count from the water's surface.
 * @param waterlineM how far the waterline lies below the reference point.
 */
export function pathOfNavigation(
  nav: Navigation,
  motion: Motion,
  levels: Levels | undefined,
  waterlineM: number,
  waterlineSdM: number,
): Trajectory {
  const shift = (motion.week - nav.week) * WEEK_S;
  const inside: number[] = [];
  const last = nav.sow.length - 1;
  for (let i = 0; i < motion.sow.length; i++) {
    const t = motion.sow[i] + shift;
    if (t >= nav.sow[0] && t <= nav.sow[last]) inside.push(i);
  }
  const n = inside.length;
  const column = () => new Float64Array(n);
  const [sow, latRad, lonRad, hEllM, rollRad, pitchRad, headingRad] = Array.from({ length: 7 }, column);
  const datum = levels?.datumEllM ?? 0;
  let fix = 0;
  inside.forEach((i, k) => {
    const t = motion.sow[i] + shift;
    sow[k] = motion.sow[i];
    while (fix + 2 < nav.sow.length && nav.sow[fix + 1] <= t) fix++;
    latRad[k] = curveBetween(nav.sow, nav.latRad, fix, t);
    lonRad[k] = curveBetween(nav.sow, nav.lonRad, fix, t);
    const level = levels ? levelAt(levels, motion.week * WEEK_S + motion.sow[i]) : 0;
    hEllM[k] = datum + level + waterlineM + motion.heaveM[i];
    rollRad[k] = motion.rollRad[i];
    pitchRad[k] = motion.pitchRad[i];
    headingRad[k] = motion.headingRad[i];
  });
  const constant = (v: number) => column().fill(v);
  const height = Math.hypot(motion.heaveSdM, waterlineSdM, levels?.sdM ?? 0);
  return {
    week: motion.week,
    sow,
    latRad,
    lonRad,
    hEllM,
    rollRad,
    pitchRad,
    headingRad,
    sdNM: constant(nav.planSdM),
    sdEM: constant(nav.planSdM),
    sdDM: constant(height),
    sdRollRad: constant(motion.rollSdRad),
    sdPitchRad: constant(motion.pitchSdRad),
    sdHeadingRad: constant(motion.headingSdRad),
    point: 'imu',
    source: 'real-time navigation and motion of the sonar file',
  };
}
