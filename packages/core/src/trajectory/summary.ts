import { extremes, mean, quantileOfSorted, rootMeanSquare, sortedCopy } from '../numeric/statistics';
import { type Trajectory } from './trajectory';

export interface ColumnStatistics {
  name: string;
  unit: string;
  mean: number;
  rms: number;
  min: number;
  max: number;
  p95: number;
}

const DEGREES = 180 / Math.PI;

/** Speed over ground in m/s: from the velocity columns, else from positions. */
export function speedMps(trajectory: Trajectory): Float64Array {
  const n = trajectory.sow.length;
  const out = new Float64Array(n);
  const { vnMps, veMps } = trajectory;
  if (vnMps && veMps) {
    for (let i = 0; i < n; i++) out[i] = Math.hypot(vnMps[i], veMps[i]);
    return out;
  }
  for (let i = 1; i < n; i++)
    out[i] = planDistanceM(trajectory, i - 1, i) / (trajectory.sow[i] - trajectory.sow[i - 1]);
  if (n > 1) out[0] = out[1];
  return out;
}

/** Plan distance between two epochs on a sphere of the ellipsoid's size; good to 0.3 % over short steps. */
export function planDistanceM(trajectory: Trajectory, i: number, j: number): number {
  const radius = 6378137;
  const dn = (trajectory.latRad[j] - trajectory.latRad[i]) * radius;
  const de = (trajectory.lonRad[j] - trajectory.lonRad[i]) * radius * Math.cos(trajectory.latRad[i]);
  return Math.hypot(dn, de);
}

/** Mean, RMS, extremes and 95th percentile of each column over a span of epochs [from, to). Angles in degrees. */
export function trajectoryStatistics(trajectory: Trajectory, from = 0, to = trajectory.sow.length): ColumnStatistics[] {
  const columns: Array<[string, string, Float64Array | undefined, number]> = [
    ['Ellipsoidal height', 'm', trajectory.hEllM, 1],
    ['Speed', 'm/s', speedMps(trajectory), 1],
    ['Roll', '°', trajectory.rollRad, DEGREES],
    ['Pitch', '°', trajectory.pitchRad, DEGREES],
    ['SD north', 'm', trajectory.sdNM, 1],
    ['SD east', 'm', trajectory.sdEM, 1],
    ['SD down', 'm', trajectory.sdDM, 1],
    ['SD roll', '°', trajectory.sdRollRad, DEGREES],
    ['SD pitch', '°', trajectory.sdPitchRad, DEGREES],
    ['SD heading', '°', trajectory.sdHeadingRad, DEGREES],
  ];
  const out: ColumnStatistics[] = [];
  for (const [name, unit, values, factor] of columns) {
    if (!values || to <= from) continue;
    const slice = Float64Array.from(values.subarray(from, to), (v) => v * factor);
    const [min, max] = extremes(slice);
    out.push({
      name,
      unit,
      mean: mean(slice),
      rms: rootMeanSquare(slice),
      min,
      max,
      p95: quantileOfSorted(sortedCopy(slice), 0.95),
    });
  }
  return out;
}
