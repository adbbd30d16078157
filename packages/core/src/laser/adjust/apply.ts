import { type Ellipsoid } from '../../frames/ellipsoid';
import { type SensorMounting } from '../../frames/mounting';
import { type Trajectory } from '../../trajectory/trajectory';
import { type Knots, KNOT_SIZE } from './knots';
import { HEAD_NAMES, type HeadParameter } from './solve';
import { HEAD_SIZE } from './partials';

/** The mounting with the corrections of its solved parameters, and their deviations. */
export function correctedMounting(mounting: SensorMounting, parameters: readonly HeadParameter[]): SensorMounting {
  const of = (name: string) => parameters.find((p) => p.name === name)!;
  const [roll, pitch, heading] = ['roll', 'pitch', 'heading'].map(of);
  const lever = ['lever x', 'lever y', 'lever z'].map(of);
  const range = of('range');
  const sd = (p: HeadParameter) => (Number.isFinite(p.sd) ? p.sd : 0);
  const { boresightDeg: b, leverArmM: l } = mounting;
  const solved = [roll, pitch, heading].some((p) => p.solved);
  return {
    ...mounting,
    boresightDeg: {
      roll: b.roll + roll.correction,
      pitch: b.pitch + pitch.correction,
      heading: b.heading + heading.correction,
    },
    boresightSdDeg: solved ? { roll: sd(roll), pitch: sd(pitch), heading: sd(heading) } : mounting.boresightSdDeg,
    leverArmM: [l[0] + lever[0].correction, l[1] + lever[1].correction, l[2] + lever[2].correction],
    leverArmSdM: lever.some((p) => p.solved) ? Math.max(...lever.map(sd)) : mounting.leverArmSdM,
    ...(range.solved ? { rangeOffsetM: (mounting.rangeOffsetM ?? 0) + range.correction } : {}),
  };
}

/** Which corrections of the trajectory are made. */
export interface TrajectoryCorrection {
  knots: Knots;
  /** Six numbers a knot, as made: the solved errors, or their mean along each line, or zero. */
  value: Float64Array;
  /** Deviations that remain; undefined where the stated ones stay. */
  sd?: Float64Array;
}

/**
 * Corrections at knots from a solution. @param shift, drift what was solved: along the line with drift, its mean with shift
 * alone, nothing without either.
 */
export function trajectoryCorrection(
  knots: Knots,
  unknown: Float64Array,
  covariance: Float64Array | undefined,
  heads: number,
  shift: boolean,
  drift: boolean,
): TrajectoryCorrection {
  const from = HEAD_SIZE * heads;
  const n = unknown.length;
  const value = new Float64Array(KNOT_SIZE * knots.count);
  if (!shift && !drift) return { knots, value };
  value.set(unknown.subarray(from));
  if (!drift) {
    for (let l = 0; l + 1 < knots.first.length; l++)
      for (let c = 0; c < KNOT_SIZE; c++) {
        let sum = 0;
        for (let k = knots.first[l]; k < knots.first[l + 1]; k++) sum += value[KNOT_SIZE * k + c];
        for (let k = knots.first[l]; k < knots.first[l + 1]; k++)
          value[KNOT_SIZE * k + c] = sum / (knots.first[l + 1] - knots.first[l]);
      }
    return { knots, value };
  }
  if (!covariance) return { knots, value };
  const sd = Float64Array.from(value, (_, i) => Math.sqrt(covariance[(from + i) * n + from + i]));
  return { knots, value, sd };
}

/** A trajectory with its corrections: straight from knot to knot, and from the end of a line to the start of the next. */
export function correctedTrajectory(
  trajectory: Trajectory,
  { knots, value, sd }: TrajectoryCorrection,
  { a, f }: Ellipsoid,
): Trajectory {
  const n = trajectory.sow.length;
  const copy = (v: Float64Array | undefined) => v?.slice() ?? new Float64Array(n);
  const out: Trajectory = {
    ...trajectory,
    latRad: trajectory.latRad.slice(),
    lonRad: trajectory.lonRad.slice(),
    hEllM: trajectory.hEllM.slice(),
    rollRad: copy(trajectory.rollRad),
    pitchRad: copy(trajectory.pitchRad),
    headingRad: copy(trajectory.headingRad),
  };
  const columns = ['sdNM', 'sdEM', 'sdDM', 'sdRollRad', 'sdPitchRad', 'sdHeadingRad'] as const;
  if (sd) for (const column of columns) out[column] = copy(trajectory[column]);
  const e2 = f * (2 - f);
  let k = 0;
  const now = new Float64Array(KNOT_SIZE);
  for (let i = 0; i < n; i++) {
    const t = trajectory.sow[i];
    while (k < knots.count - 2 && knots.timeS[k + 1] <= t) k++;
    const span = knots.timeS[k + 1] - knots.timeS[k];
    const u = span > 0 ? Math.min(1, Math.max(0, (t - knots.timeS[k]) / span)) : 0;
    for (let c = 0; c < KNOT_SIZE; c++)
      now[c] = (1 - u) * value[KNOT_SIZE * k + c] + u * value[KNOT_SIZE * (k + 1) + c];
    const lat = trajectory.latRad[i];
    const w = Math.sqrt(1 - e2 * Math.sin(lat) ** 2);
    out.latRad[i] += now[0] / ((a * (1 - e2)) / w ** 3 + trajectory.hEllM[i]);
    out.lonRad[i] += now[1] / ((a / w + trajectory.hEllM[i]) * Math.cos(lat));
    out.hEllM[i] -= now[2];
    out.rollRad![i] += now[3] / 1000;
    out.pitchRad![i] += now[4] / 1000;
    out.headingRad![i] = (out.headingRad![i] + now[5] / 1000 + 2 * Math.PI) % (2 * Math.PI);
    const inLine = knots.line[k] === knots.line[k + 1] && t >= knots.timeS[k] && t <= knots.timeS[k + 1];
    if (sd && inLine)
      columns.forEach((column, c) => {
        const left = (1 - u) * sd[KNOT_SIZE * k + c] + u * sd[KNOT_SIZE * (k + 1) + c];
        out[column]![i] = c < 3 ? left : left / 1000;
      });
  }
  return out;
}

/** Solved corrections as unknowns of the equations; held ones are zero. */
export function appliedOf(
  parameters: readonly HeadParameter[],
  correction: TrajectoryCorrection,
  heads: number,
): Float64Array {
  const out = new Float64Array(HEAD_SIZE * heads + correction.value.length);
  for (const p of parameters) {
    const c = HEAD_NAMES.indexOf(p.name);
    out[HEAD_SIZE * p.head + c] = c < 3 ? (p.correction * Math.PI) / 0.18 : p.correction;
  }
  out.set(correction.value, HEAD_SIZE * heads);
  return out;
}
