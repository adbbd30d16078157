import { quaternionFromAngles } from '../frames/attitude';

export const SOLUTIONS = ['', 'fixed', 'float', 'code', 'inertial'] as const;
export type Solution = (typeof SOLUTIONS)[number];

/**
 * A trajectory in columns, one row per epoch, in time order. Geodetic coordinates in the frame named by `crs`.
 * Optional columns are undefined when the source has none.
 */
export interface Trajectory {
  /** GPS week that `sow` counts from; `sow` never wraps. */
  week: number;
  sow: Float64Array;
  latRad: Float64Array;
  lonRad: Float64Array;
  hEllM: Float64Array;
  rollRad?: Float64Array;
  pitchRad?: Float64Array;
  headingRad?: Float64Array;
  vnMps?: Float64Array;
  veMps?: Float64Array;
  vdMps?: Float64Array;
  sdNM?: Float64Array;
  sdEM?: Float64Array;
  sdDM?: Float64Array;
  sdRollRad?: Float64Array;
  sdPitchRad?: Float64Array;
  sdHeadingRad?: Float64Array;
  /** Index into {@link SOLUTIONS}. */
  solution?: Uint8Array;
  satellites?: Uint8Array;
  /** For example `EPSG:4937`; undefined when the source does not say. */
  crs?: string;
  epoch?: number;
  /** Which point of the platform: imu, antenna or a name. */
  point?: string;
  source?: string;
}

export interface Gap {
  startSow: number;
  endSow: number;
  lengthS: number;
}

/** The usual step between epochs: the median of all steps, seconds. */
export function nominalStepS(sow: Float64Array): number {
  if (sow.length < 2) return 0;
  const steps = new Float64Array(sow.length - 1);
  for (let i = 1; i < sow.length; i++) steps[i - 1] = sow[i] - sow[i - 1];
  steps.sort();
  return steps[steps.length >> 1];
}

/** Places where the step is more than `factor` times the usual one and more than `atLeastS`. */
export function findGaps(sow: Float64Array, factor = 2.5, atLeastS = 0.05): Gap[] {
  const limit = Math.max(nominalStepS(sow) * factor, atLeastS);
  const gaps: Gap[] = [];
  for (let i = 1; i < sow.length; i++) {
    const lengthS = sow[i] - sow[i - 1];
    if (lengthS > limit) gaps.push({ startSow: sow[i - 1], endSow: sow[i], lengthS });
  }
  return gaps;
}

/** Index i with sow[i] ≤ t < sow[i+1], or −1 when t is outside. The last epoch itself belongs to the last interval. */
export function intervalAt(sow: Float64Array, t: number): number {
  const n = sow.length;
  if (n < 2 || !(t >= sow[0]) || t > sow[n - 1]) return -1;
  let low = 0;
  let high = n - 1;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (sow[middle] <= t) low = middle;
    else high = middle;
  }
  return low;
}

/** Quaternions (w, x, y, z) of body to local level for every epoch; undefined without attitude. */
export function attitudeQuaternions(trajectory: Trajectory): Float64Array | undefined {
  const { rollRad, pitchRad, headingRad } = trajectory;
  if (!rollRad || !pitchRad || !headingRad) return undefined;
  const out = new Float64Array(4 * rollRad.length);
  for (let i = 0; i < rollRad.length; i++) quaternionFromAngles(rollRad[i], pitchRad[i], headingRad[i], out, 4 * i);
  return out;
}
