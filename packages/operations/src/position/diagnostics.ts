import { ecefToNed, DEG } from '@longheron/core/frames';
import { type KinematicEpoch } from '@longheron/core/gnss';
import { UNIT_WIDTH } from '@longheron/core/inertial';
import { type InertialResult } from './inertial';

/** One quantity against time for a plot: lowest and highest in each bin; null where the line breaks off. */
export interface DiagnosticSeries {
  name: string;
  unit: string;
  /** GPS seconds. */
  time: number[];
  min: Array<number | null>;
  max: Array<number | null>;
}

const BINS = 2400;
/** Over a longer time without values no line is drawn, seconds. */
const LONGEST_LINE_S = 3;
const AXES = ['forward', 'right', 'down'] as const;

/** What a computation tells of itself over time, besides its result: to be plotted, never thinned to single epochs. */
export function diagnosticsOf(epochs: KinematicEpoch[], week: number, inertial?: InertialResult): DiagnosticSeries[] {
  const time = epochs.map((e) => week * 604800 + e.sow);
  const out = [
    series('Forward less reverse', 'm', time, (i) => epochs[i].separationM, 4),
    series('Ratio', '', time, (i) => Math.min(999, epochs[i].ratio), 1),
    series('Satellites used', '', time, (i) => epochs[i].satellites, 0),
  ];
  if (inertial) out.push(...passes(inertial), ...innovations(inertial), ...unitErrors(inertial));
  return out.filter((s) => s.time.length > 0);
}

function innovations({ solution, data, trajectory }: InertialResult): DiagnosticSeries[] {
  const { innovations: all } = solution;
  const axes = ecefToNed(trajectory.latRad[0], trajectory.lonRad[0]);
  const time = all.map((v) => data.week * 604800 + v.sow);
  return ['north', 'east', 'down'].map((name, k) =>
    series(
      `Innovation ${name}`,
      'm',
      time,
      (i) => [0, 1, 2].reduce((s, c) => s + axes[3 * k + c] * all[i].xyzM[c], 0),
      4,
    ),
  );
}

/** Forward less reverse of the inertial filter, without smoothing. */
function passes({ separation: s, data }: InertialResult): DiagnosticSeries[] {
  if (!s) return [];
  const time = Array.from(s.sow, (t) => data.week * 604800 + t);
  const of = (v: Float64Array, c: number, factor: number) => (i: number) => v[3 * i + c] * factor;
  return [
    ...['north', 'east', 'down'].map((n, c) => series(`Passes differ ${n}`, 'm', time, of(s.nedM, c, 1), 4)),
    ...['roll', 'pitch', 'heading'].map((n, c) =>
      series(`Passes differ ${n}`, '°', time, of(s.attitudeRad, c, 1 / DEG), 4),
    ),
  ];
}

function unitErrors({ solution, data }: InertialResult): DiagnosticSeries[] {
  const { unit, unitNodes, first } = solution;
  const time = Array.from(unitNodes, (s) => data.week * 604800 + data.sow[first + s]);
  const at = (column: number, factor: number) => (i: number) => unit[i * UNIT_WIDTH + column] * factor;
  return [
    ...AXES.map((axis, k) => series(`Gyro bias ${axis}`, '°/h', time, at(k, 3600 / DEG), 5)),
    ...AXES.map((axis, k) => series(`Accelerometer bias ${axis}`, 'mg', time, at(3 + k, 1 / 9.80665e-3), 5)),
  ];
}

function series(
  name: string,
  unit: string,
  time: number[],
  value: (i: number) => number,
  digits: number,
): DiagnosticSeries {
  const out: DiagnosticSeries = { name, unit, time: [], min: [], max: [] };
  const round = (v: number) => Number(v.toFixed(digits));
  const n = time.length;
  const bins = Math.min(BINS, n);
  for (let b = 0; b < bins; b++) {
    const from = Math.floor((b * n) / bins);
    const to = Math.floor(((b + 1) * n) / bins);
    let low = Infinity;
    let high = -Infinity;
    for (let i = from; i < to; i++) {
      const v = value(i);
      if (v < low) low = v;
      if (v > high) high = v;
    }
    if (low > high) continue;
    const at = Number(time[(from + to - 1) >> 1].toFixed(3));
    const last = out.time[out.time.length - 1];
    if (at - last > LONGEST_LINE_S) {
      out.time.push(last + 0.001);
      out.min.push(null);
      out.max.push(null);
    }
    out.time.push(at);
    out.min.push(round(low));
    out.max.push(round(high));
  }
  return out;
}
