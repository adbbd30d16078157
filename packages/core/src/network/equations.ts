import { ecefToGeodetic, ecefToNed, GRS80 } from '../frames/ellipsoid';
import { nearOrder } from '../numeric/envelope';
import { isAngle, type NetworkObservation, type NetworkPoint, type Sight } from './observations';

/** What is looked for: coordinates of points, then the zero of the circle and the errors of place of each set-up. */
export interface Unknowns {
  points: NetworkPoint[];
  at: Map<string, number>;
  /** Earth-centred metres of each point. */
  places: Float64Array[];
  /** North, east, down of each point in Earth-centred axes. */
  axes: Float64Array[];
  /** First of three columns of each point. */
  pointAt: Int32Array;
  /** Set-ups by name: first column, −1 where nothing but the zero is looked for; number in the lists below. */
  setUps: Map<string, SetUp>;
  columns: number;
  /** First column that each column is tied to, columns of what is linked standing near each other. */
  first: Int32Array;
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
  const setUps = new Map<string, SetUp>();
  const apart = sd.planM > 0 || sd.heightM > 0;
  for (const o of observations) {
    const sight = sightOf(o);
    if (!sight) continue;
    const one = setUps.get(sight.setUp) ?? { zeroAt: -1, placeAt: -1, zeroRad: Number.NaN, offM: new Float64Array(3) };
    setUps.set(sight.setUp, one);
    // any place for now: they are given below
    if (apart || looseHeights.includes(sight.setUp)) one.placeAt = 0;
    if (o.kind === 'direction') one.zeroAt = 0;
  }
  const { pointAt, columns, first } = columnsOf(at, setUps, observations);
  const u: Unknowns = { points, at, places, axes: [], pointAt, setUps, columns, first };
  orient(u);
  for (const o of observations) {
    if (o.kind !== 'direction') continue;
    const one = setUps.get(o.sight.setUp)!;
    if (Number.isNaN(one.zeroRad)) one.zeroRad = bearingOf(seen(u, o.from, o.to, o.sight)) - o.valueRad;
  }
  return u;
}

/** Gives points and set-ups their columns, in an order in which those that observations link stand near each other. */
function columnsOf(
  at: ReadonlyMap<string, number>,
  setUps: ReadonlyMap<string, SetUp>,
  observations: readonly NetworkObservation[],
): Pick<Unknowns, 'pointAt' | 'columns' | 'first'> {
  const names = [...setUps.keys()];
  const nodes = at.size + names.length;
  const links = Array.from({ length: nodes }, () => new Set<number>());
  const together = (all: Iterable<number>) => {
    const list = [...all];
    for (const a of list) for (const b of list) if (a !== b) links[a].add(b);
  };
  const sessions = new Map<string, Set<number>>();
  const setUpAt = new Map(names.map((n, k) => [n, at.size + k]));
  for (const o of observations) {
    const ends = [at.get(o.from)!, at.get(o.to)!];
    const sight = sightOf(o);
    together(sight ? [...ends, setUpAt.get(sight.setUp)!] : ends);
    if (o.kind !== 'vector' || !o.session) continue;
    const session = sessions.get(o.session) ?? new Set();
    ends.forEach((e) => session.add(e));
    sessions.set(o.session, session);
  }
  for (const session of sessions.values()) together(session);
  const start = new Int32Array(nodes);
  const size = new Int32Array(nodes).fill(3, 0, at.size);
  names.forEach((n, k) => {
    const { zeroAt, placeAt } = setUps.get(n)!;
    size[at.size + k] = (zeroAt < 0 ? 0 : 1) + (placeAt < 0 ? 0 : 3);
  });
  let columns = 0;
  for (const node of nearOrder(links)) {
    start[node] = columns;
    columns += size[node];
  }
  const first = new Int32Array(columns);
  links.forEach((own, node) => {
    let least = start[node];
    for (const o of own) least = Math.min(least, start[o]);
    first.fill(least, start[node], start[node] + size[node]);
  });
  names.forEach((n, k) => {
    const one = setUps.get(n)!;
    let column = start[at.size + k];
    if (one.placeAt >= 0) {
      one.placeAt = column;
      column += 3;
    }
    if (one.zeroAt >= 0) one.zeroAt = column;
  });
  return { pointAt: start.slice(0, at.size), columns, first };
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
      const by = x[u.pointAt[i] + k];
      p[k] += by;
      most = Math.max(most, Math.abs(by));
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
export const EARTH_RADIUS_M = 6_380_000;

/**
 * Equations of all observations, in their order.
 * @param refraction coefficient of refraction: the ray's curvature in that of the Earth.
 */
export function rowsFor(u: Unknowns, observations: NetworkObservation[], refraction: number): Row[] {
  const rows: Row[] = [];
  for (const o of observations) {
    const [f, t] = [u.at.get(o.from)!, u.at.get(o.to)!];
    const [atF, atT] = [u.pointAt[f], u.pointAt[t]];
    if (o.kind === 'vector') {
      for (let k = 0; k < 3; k++)
        rows.push({
          columns: [atT + k, atF + k],
          values: [1, -1],
          misfit: o.deltaM[k] - (u.places[t][k] - u.places[f][k]),
        });
      continue;
    }
    if (o.kind === 'height') {
      // up of either end: the ellipsoid's normals differ
      const [a, b] = [u.axes[f], u.axes[t]];
      rows.push({
        columns: [0, 1, 2].flatMap((k) => [atT + k, atF + k]),
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
      const bent = (refraction * flat) / (2 * EARTH_RADIUS_M);
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
    columns.push(u.pointAt[t] + k, u.pointAt[f] + k);
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
