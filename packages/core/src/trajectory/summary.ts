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

type Column = [name: string, unit: string, values: Float64Array, factor: number];

/** The columns that statistics are made of; angles become degrees by their factor. */
function statisticalColumns(trajectory: Trajectory): Column[] {
  const all: Array<[string, string, Float64Array | undefined, number]> = [
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
  return all.filter((c): c is Column => c[2] !== undefined);
}

/** Per bin of epochs: mean, mean square and extremes of a column, so that those of any run of bins follow. */
export interface BinnedColumn {
  name: string;
  unit: string;
  mean: number[];
  meanSquare: number[];
  min: number[];
  max: number[];
}

/** Statistics of each column in bins; @param edges first epoch of each bin, and the end of the last. */
export function binnedColumns(trajectory: Trajectory, edges: ArrayLike<number>): BinnedColumn[] {
  const digits = (v: number) => Number(v.toPrecision(7));
  return statisticalColumns(trajectory).map(([name, unit, values, factor]) => {
    const out: BinnedColumn = { name, unit, mean: [], meanSquare: [], min: [], max: [] };
    for (let b = 0; b + 1 < edges.length; b++) {
      let sum = 0;
      let square = 0;
      let low = Infinity;
      let high = -Infinity;
      for (let i = edges[b]; i < edges[b + 1]; i++) {
        const v = values[i] * factor;
        sum += v;
        square += v * v;
        if (v < low) low = v;
        if (v > high) high = v;
      }
      const n = edges[b + 1] - edges[b];
      out.mean.push(digits(sum / n));
      out.meanSquare.push(digits(square / n));
      out.min.push(digits(low));
      out.max.push(digits(high));
    }
    return out;
  });
}

/** Mean, RMS and extremes over bins [from, to), exact but for rounding. @param counts epochs by bin. */
export function statisticsOfBins(
  columns: BinnedColumn[],
  counts: ArrayLike<number>,
  from: number,
  to: number,
): Array<Omit<ColumnStatistics, 'p95'>> {
  return columns.map((c) => {
    let n = 0;
    let sum = 0;
    let square = 0;
    let min = Infinity;
    let max = -Infinity;
    for (let b = from; b < to; b++) {
      n += counts[b];
      sum += counts[b] * c.mean[b];
      square += counts[b] * c.meanSquare[b];
      min = Math.min(min, c.min[b]);
      max = Math.max(max, c.max[b]);
    }
    return { name: c.name, unit: c.unit, mean: sum / n, rms: Math.sqrt(square / n), min, max };
  });
}

/** Mean, RMS, extremes and 95th percentile of each column over a span of epochs [from, to). Angles in degrees. */
export function trajectoryStatistics(trajectory: Trajectory, from = 0, to = trajectory.sow.length): ColumnStatistics[] {
  const out: ColumnStatistics[] = [];
  for (const [name, unit, values, factor] of statisticalColumns(trajectory)) {
    if (to <= from) continue;
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
