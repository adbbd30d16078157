import { ecefToGeodetic, ecefToNed, GRS80 } from '../frames/ellipsoid';
import { isAngle, type NetworkObservation, type NetworkPoint, type Sight } from './observations';

/** What is looked for: coordinates of points, then the zero of the circle and the errors of place of each set-up. */
export interface Unknowns {
  points: NetworkPoint[];
  at: Map<string, number>;
  /** Earth-centred metres of each point. */
  places: Float64Array[];
  /** North, east, down of each point in Earth-centred axes. */
  axes: Float64Array[];
  /** Set-ups by name: first column, −1 where nothing but the zero is looked for; number in the lists below. */
  setUps: Map<string, SetUp>;
  columns: number;
}

interface SetUp {
  /** Column of the zero of the circle; −1 without directions. */
  zeroAt: number;
  /** First of three columns of the instrument's place off its mark; −1: it stands on it. */
  placeAt: number;
  zeroRad: number;
  /** North, east, down of where it should stand, metres. */
  offM: Float64Array;
}

/** One equation: what each unknown changes, and observed less computed. */
export interface Row {
  columns: number[];
  values: number[];
  misfit: number;
}

/** Deviations of where instruments stand over their marks, 1 SD; nothing where they are zero. */
export interface SetUpSd {
  planM: number;
  heightM: number;
}

export function unknownsOf(
  points: NetworkPoint[],
  places: Float64Array[],
  observations: NetworkObservation[],
  sd: SetUpSd,
  looseHeights: readonly string[],
): Unknowns {
  const at = new Map(points.map((p, i) => [p.name, i]));
  let columns = 3 * points.length;
  const setUps = new Map<string, SetUp>();
  const apart = sd.planM > 0 || sd.heightM > 0;
  for (const o of observations) {
    const sight = sightOf(o);
    if (!sight) continue;
    let one = setUps.get(sight.setUp);
    if (!one) {
      setUps.set(sight.setUp, (one = { zeroAt: -1, placeAt: -1, zeroRad: Number.NaN, offM: new Float64Array(3) }));
      if (apart || looseHeights.includes(sight.setUp)) {
        one.placeAt = columns;
        columns += 3;
      }
    }
    if (o.kind === 'direction' && one.zeroAt < 0) one.zeroAt = columns++;
  }
  const u: Unknowns = { points, at, places, axes: [], setUps, columns };
  orient(u);
  for (const o of observations) {
    if (o.kind !== 'direction') continue;
    const one = setUps.get(o.sight.setUp)!;
    if (Number.isNaN(one.zeroRad)) one.zeroRad = bearingOf(seen(u, o.from, o.to, o.sight)) - o.valueRad;
  }
  return u;
}

export const sightOf = (o: NetworkObservation): Sight | undefined =>
  o.kind === 'vector' || o.kind === 'height' ? undefined : o.sight;

/** Axes of all points anew, after they were moved. */
function orient(u: Unknowns): void {
  u.axes = u.places.map((p) => {
    const geo = ecefToGeodetic(GRS80, p[0], p[1], p[2]);
    return ecefToNed(geo[0], geo[1]);
  });
}

/** Takes a step. @returns the largest change of a point, metres. */
export function step(u: Unknowns, x: Float64Array): number {
  let most = 0;
  u.places.forEach((p, i) => {
    for (let k = 0; k < 3; k++) {
      p[k] += x[3 * i + k];
      most = Math.max(most, Math.abs(x[3 * i + k]));
    }
  });
  for (const s of u.setUps.values()) {
    if (s.zeroAt >= 0) s.zeroRad += x[s.zeroAt];
    if (s.placeAt >= 0) for (let k = 0; k < 3; k++) s.offM[k] += x[s.placeAt + k];
  }
  orient(u);
  return most;
}

const bearingOf = (v: ArrayLike<number>) => Math.atan2(v[1], v[0]);

/** North, east, down from instrument to target, in the axes of the mark below the instrument. */
function seen(u: Unknowns, from: string, to: string, sight: Sight | undefined): [number, number, number] {
  const [f, t] = [u.at.get(from)!, u.at.get(to)!];
  const [a, b] = [u.axes[f], u.axes[t]];
  const [hf, ht] = [sight?.fromHeightM ?? 0, sight?.toHeightM ?? 0];
  const d = [0, 1, 2].map((k) => u.places[t][k] - ht * b[6 + k] - (u.places[f][k] - hf * a[6 + k]));
  const off = sight && u.setUps.get(sight.setUp)!.offM;
  const along = (r: number) => a[3 * r] * d[0] + a[3 * r + 1] * d[1] + a[3 * r + 2] * d[2] - (off ? off[r] : 0);
  return [along(0), along(1), along(2)];
}

const wrapped = (rad: number) => rad - 2 * Math.PI * Math.round(rad / (2 * Math.PI));
const heightOf = (p: ArrayLike<number>) => ecefToGeodetic(GRS80, p[0], p[1], p[2])[2];

/** Mean radius of the ellipsoid along the way, metres: good enough for what refraction bends. */
const RADIUS_M = 6_380_000;

/**
 * Equations of all observations, in their order.
 * @param refraction coefficient of refraction: the ray's curvature in that of the Earth.
 */
export function rowsFor(u: Unknowns, observations: NetworkObservation[], refraction: number): Row[] {
  const rows: Row[] = [];
  for (const o of observations) {
    const [f, t] = [u.at.get(o.from)!, u.at.get(o.to)!];
    if (o.kind === 'vector') {
      for (let k = 0; k < 3; k++)
        rows.push({
          columns: [3 * t + k, 3 * f + k],
          values: [1, -1],
          misfit: o.deltaM[k] - (u.places[t][k] - u.places[f][k]),
        });
      continue;
    }
    if (o.kind === 'height') {
      // up of either end: the ellipsoid's normals differ
      const [a, b] = [u.axes[f], u.axes[t]];
      rows.push({
        columns: [0, 1, 2].flatMap((k) => [3 * t + k, 3 * f + k]),
        values: [0, 1, 2].flatMap((k) => [-b[6 + k], a[6 + k]]),
        misfit: o.valueM - (heightOf(u.places[t]) - heightOf(u.places[f])),
      });
      continue;
    }
    const v = seen(u, o.from, o.to, o.sight);
    const [n, e, d] = v;
    const flat = Math.hypot(n, e);
    const slope = Math.hypot(flat, d);
    let g: [number, number, number];
    let misfit: number;
    const setUp = o.sight && u.setUps.get(o.sight.setUp);
    if (!isAngle(o)) {
      g = [n / slope, e / slope, d / slope];
      misfit = o.valueM - slope;
    } else if (o.kind === 'direction') {
      g = [-e / flat ** 2, n / flat ** 2, 0];
      misfit = wrapped(o.valueRad + setUp!.zeroRad - bearingOf(v));
    } else {
      const c = 1 / slope ** 2;
      g = [(-d * n * c) / flat, (-d * e * c) / flat, flat * c];
      const bent = (refraction * flat) / (2 * RADIUS_M);
      misfit = o.valueRad - (Math.atan2(flat, -d) - bent);
    }
    rows.push(rowOf(u, f, t, g, misfit, setUp, o.kind === 'direction'));
  }
  return rows;
}

/** @param g how what was observed changes with north, east, down of the target. */
function rowOf(
  u: Unknowns,
  f: number,
  t: number,
  g: readonly number[],
  misfit: number,
  setUp: SetUp | undefined,
  direction: boolean,
): Row {
  const a = u.axes[f];
  const columns: number[] = [];
  const values: number[] = [];
  for (let k = 0; k < 3; k++) {
    const c = g[0] * a[k] + g[1] * a[3 + k] + g[2] * a[6 + k];
    columns.push(3 * t + k, 3 * f + k);
    values.push(c, -c);
  }
  if (setUp && setUp.placeAt >= 0)
    for (let k = 0; k < 3; k++) {
      columns.push(setUp.placeAt + k);
      values.push(-g[k]);
    }
  if (setUp && direction) {
    columns.push(setUp.zeroAt);
    values.push(-1);
  }
  return { columns, values, misfit };
}
