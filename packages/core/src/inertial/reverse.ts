import { anglesFromRotation } from '../frames/attitude';
import { ecefToGeodetic, ecefToNed, GRS80 } from '../frames/ellipsoid';
import { multiply3, type Matrix3 } from '../numeric/matrix3';
import { type Watch } from '../shared/progress';
import { type InertialData } from './inertialData';
import { STATE_WIDTH } from './mechanisation';
import { filterOnly } from './navigate';
import { type InertialSolution } from './solution';
import { type AidingPosition, type InertialSettings } from './settings';

/** Forward less reverse, each by its own filter and alignment, about once a second. */
export interface Separation {
  /** Seconds of the unit's week. */
  sow: Float64Array;
  /** North, east, down by epoch, metres. */
  nedM: Float64Array;
  /** Roll, pitch, heading by epoch, radians. */
  attitudeRad: Float64Array;
}

/** Signs of the axes in the mirror. */
const MIRROR = [1, -1, 1];

/**
 * Runs the filter over the same data from the end to the beginning, and compares. Backwards in time the Earth turns the
 * other way, and in a mirror it turns back again: data reversed and mirrored (y against −y, of body and Earth alike) obey
 * the same equations, so that the same filter serves. Without smoothing on either side both passes share no errors but
 * those of the positions.
 */
export function separationOf(
  forward: InertialSolution,
  data: InertialData,
  positions: AidingPosition[],
  settings: InertialSettings,
  watch?: Watch,
): Separation {
  const n = data.sow.length;
  const { samples, states } = forward.filtered;
  const back = filterOnly(
    mirrored(data),
    positions.map(mirroredPosition).reverse(),
    mirroredSettings(forward, settings),
    samples.map((s) => n - 1 - s).reverse(),
    watch,
  );
  const rows: number[][] = [];
  for (let k = 0; k < samples.length; k++) {
    const row = (at: number, of: Float64Array) => of.subarray(at * STATE_WIDTH, (at + 1) * STATE_WIDTH);
    const theirs = row(samples.length - 1 - k, back);
    // outside the way back nothing was written
    if (theirs[0] !== 0) rows.push([data.sow[samples[k]], ...difference(row(k, states), theirs)]);
  }
  return {
    sow: Float64Array.from(rows, (r) => r[0]),
    nedM: Float64Array.from(rows.flatMap((r) => r.slice(1, 4))),
    attitudeRad: Float64Array.from(rows.flatMap((r) => r.slice(4))),
  };
}

/** A state less the mirrored one of the way back: north, east, down, roll, pitch, heading. */
function difference(a: Float64Array, b: Float64Array): number[] {
  const place = [0, 1, 2].map((k) => b[k] * MIRROR[k]);
  const turn: Matrix3 = new Float64Array(9);
  for (let i = 0; i < 3; i++) for (let j = 0; j < 3; j++) turn[3 * i + j] = MIRROR[i] * MIRROR[j] * b[6 + 3 * i + j];
  const [lat, lon] = ecefToGeodetic(GRS80, a[0], a[1], a[2]);
  const axes = ecefToNed(lat, lon);
  const ned = [0, 1, 2].map((k) => [0, 1, 2].reduce((s, c) => s + axes[3 * k + c] * (a[c] - place[c]), 0));
  const p = anglesFromRotation(multiply3(axes, a.slice(6, 15)));
  const q = anglesFromRotation(multiply3(axes, turn));
  const wrapped = (v: number) => Math.atan2(Math.sin(v), Math.cos(v));
  return [...ned, ...[p.rollRad - q.rollRad, p.pitchRad - q.pitchRad, p.headingRad - q.headingRad].map(wrapped)];
}

/** Samples are means over the step before them: going back, over the step after. */
function mirrored(d: InertialData): InertialData {
  const n = d.sow.length;
  const turned = (v: Float64Array) => {
    const out = new Float64Array(v.length);
    for (let k = 0; k < n; k++) {
      const from = 3 * Math.min(n - 1, n - k);
      for (let c = 0; c < 3; c++) out[3 * k + c] = MIRROR[c] * v[from + c];
    }
    return out;
  };
  return {
    ...d,
    sow: Float64Array.from(d.sow, (_, k) => -d.sow[n - 1 - k]),
    gyroRadps: turned(d.gyroRadps),
    accelMps2: turned(d.accelMps2),
  };
}

function mirroredPosition(p: AidingPosition): AidingPosition {
  const covariance = Float64Array.from(p.covariance, (v, k) => v * MIRROR[Math.floor(k / 3)] * MIRROR[k % 3]);
  return { ...p, sow: -p.sow, xyzM: Float64Array.from(p.xyzM, (v, k) => v * MIRROR[k]), covariance };
}

function mirroredSettings(forward: InertialSolution, s: InertialSettings): InertialSettings {
  const vector = (v: InertialSettings['leverArmM']) => [v[0], -v[1], v[2]] as InertialSettings['leverArmM'];
  const turn = s.vehicleRotation?.map((v, k) => v * MIRROR[Math.floor(k / 3)] * MIRROR[k % 3]);
  return {
    ...s,
    leverArmM: vector(s.leverArmM),
    vehicleOriginM: vector(s.vehicleOriginM),
    ...(turn ? { vehicleRotation: turn } : {}),
    // a heading that had to be given cannot be found backwards either: the end of the way forward gives it
    headingRad: s.headingRad === undefined ? undefined : -lastHeading(forward),
  };
}

function lastHeading({ states, count }: InertialSolution): number {
  const x = states.at(count - 1);
  const [lat, lon] = ecefToGeodetic(GRS80, x[0], x[1], x[2]);
  return anglesFromRotation(multiply3(ecefToNed(lat, lon), x.slice(6, 15))).headingRad;
}
