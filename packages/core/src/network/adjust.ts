import { ecefToGeodetic, ecefToNed, GRS80 } from '../frames/ellipsoid';
import { chiSquareQuantile } from '../numeric/gamma';
import { solveNormal } from '../numeric/leastSquares';
import { Problem } from '../shared/problem';
import { approximatePlaces } from './approximate';
import { covarianceOf } from './covariance';
import { ellipseOf, turned, type Ellipse } from './ellipse';
import { rowsOf, type NetworkObservation, type NetworkPoint } from './observations';

/** A point as adjusted. */
export interface AdjustedPoint {
  name: string;
  held: boolean;
  /** Earth-centred metres. */
  xyzM: Float64Array;
  /** North, east, down, 3 × 3, metres². */
  covariance: Float64Array;
  /** 1 SD, north, east, down, metres. */
  sdM: [number, number, number];
  /** Of plan, 1 SD. */
  ellipse: Ellipse;
  /** Of a held point: adjusted less given, north, east, down, metres. */
  movedM?: [number, number, number];
  /** And the deviations that it was held with. */
  heldSdM?: readonly [number, number, number];
  /** Whether observations beyond the least that fix it speak for it. */
  checked: boolean;
}

/** An observation as adjusted. */
export interface AdjustedObservation {
  observation: NetworkObservation;
  lengthM: number;
  /** Adjusted less observed: north, east, down of a vector, one value of a scalar; metres. */
  residualM: number[];
  /** Share of an error of it that its residual shows, mean of its components, 0 to 1. */
  redundancy: number;
  /** Largest standardised residual of its components (Baarda 1968); NaN when nothing checks it. */
  test: number;
}

export interface Adjustment {
  points: AdjustedPoint[];
  observations: AdjustedObservation[];
  /** Observations beyond those needed. */
  freedom: number;
  /** Weighted square sum of residuals over the freedom; NaN without freedom. */
  varianceFactor: number;
  /** Range of the variance factor in 95 of 100 networks whose deviations are right. */
  expected: [number, number];
  /** What the stated deviations were multiplied with: above 1 when the residuals are larger than they allow. */
  scale: number;
}

/** An error of an observation counts as checked from this redundancy on. */
const CHECKED = 0.1;
/** What a held point can be known to at best, metres. */
const MIN_SD_M = 1e-4;
const MAX_ROUNDS = 8;

interface Work {
  points: NetworkPoint[];
  places: Float64Array[];
  axes: Float64Array[];
  at: Map<string, number>;
  observations: NetworkObservation[];
  rows: number;
  columns: number;
}

/**
 * Least squares of a network of vectors, distances and height differences, with the points that are held as observed
 * with their deviations (Leick, Rapoport & Tatarnikov 2015, 4 and 5.6).
 * @throws Problem when nothing is held, an observation names an unknown point, or a point hangs on nothing.
 */
export function adjustNetwork(points: NetworkPoint[], observations: NetworkObservation[]): Adjustment {
  const places = approximatePlaces(points, observations);
  const work: Work = {
    points,
    places,
    axes: places.map((p) => axesAt(p)),
    at: new Map(points.map((p, i) => [p.name, i])),
    observations,
    rows: observations.reduce((n, o) => n + rowsOf(o), 0) + 3 * points.filter((p) => p.heldM).length,
    columns: 3 * points.length,
  };
  const sigma = fullCovariance(work);
  const weight = solveNormal(sigma.slice(), new Float64Array(work.rows), work.rows);
  if (!weight)
    throw new Problem('The deviations of the observations contradict each other.', {
      code: 'network-covariance',
      remedy: 'Leave out vectors that follow from others of the same session.',
    });
  let design = new Float64Array();
  let inverse: Float64Array | undefined;
  for (let round = 0; round < MAX_ROUNDS; round++) {
    const { a, misfit } = linearised(work);
    design = a;
    const { normal, right } = normalEquations(a, weight, misfit, work.rows, work.columns);
    inverse = solveNormal(normal, right, work.columns);
    if (!inverse) throw undetermined(points);
    let most = 0;
    work.places.forEach((p, i) => {
      for (let k = 0; k < 3; k++) {
        p[k] += right[3 * i + k];
        most = Math.max(most, Math.abs(right[3 * i + k]));
      }
    });
    if (most < 1e-6) break;
  }
  return result(work, design, weight, sigma, inverse!);
}

function undetermined(points: NetworkPoint[]): Problem {
  return new Problem('The observations do not determine the network.', {
    code: 'network-loose',
    place: points.map((p) => p.name).join(', '),
    remedy: 'Hold one more point, or add vectors to those that only distances or heights reach.',
  });
}

const axesAt = (p: ArrayLike<number>) => {
  const geo = ecefToGeodetic(GRS80, p[0], p[1], p[2]);
  return ecefToNed(geo[0], geo[1]);
};

/** Covariance of all rows: observations in their order, then held points. */
function fullCovariance({ points, axes, observations, rows }: Work): Float64Array {
  const sigma = covarianceOf(observations, rows);
  let row = observations.reduce((n, o) => n + rowsOf(o), 0);
  points.forEach((p, i) => {
    if (!p.heldM) return;
    const sd = (p.heldSdM ?? [0, 0, 0]).map((v) => Math.max(v, MIN_SD_M));
    for (let a = 0; a < 3; a++)
      for (let b = 0; b < 3; b++)
        sigma[(row + a) * rows + row + b] = [0, 1, 2].reduce(
          (sum, k) => sum + axes[i][3 * k + a] * axes[i][3 * k + b] * sd[k] ** 2,
          0,
        );
    row += 3;
  });
  return sigma;
}

/** Derivatives by the coordinates, row by row, and observed less computed. */
function linearised({ points, places, axes, at, observations, rows, columns }: Work): {
  a: Float64Array<ArrayBuffer>;
  misfit: Float64Array;
} {
  const a = new Float64Array(rows * columns);
  const misfit = new Float64Array(rows);
  let row = 0;
  for (const o of observations) {
    const [f, t] = [at.get(o.from)!, at.get(o.to)!];
    const d = [0, 1, 2].map((k) => places[t][k] - places[f][k]);
    if (o.kind === 'vector') {
      for (let k = 0; k < 3; k++) {
        a[(row + k) * columns + 3 * t + k] = 1;
        a[(row + k) * columns + 3 * f + k] = -1;
        misfit[row + k] = o.deltaM[k] - d[k];
      }
      row += 3;
      continue;
    }
    if (o.kind === 'distance') {
      const length = Math.hypot(d[0], d[1], d[2]);
      for (let k = 0; k < 3; k++) {
        a[row * columns + 3 * t + k] = d[k] / length;
        a[row * columns + 3 * f + k] = -d[k] / length;
      }
      misfit[row] = o.valueM - length;
    } else {
      // up of either end: the ellipsoid's normals differ
      for (let k = 0; k < 3; k++) {
        a[row * columns + 3 * t + k] = -axes[t][6 + k];
        a[row * columns + 3 * f + k] = axes[f][6 + k];
      }
      misfit[row] = o.valueM - (heightOf(places[t]) - heightOf(places[f]));
    }
    row++;
  }
  points.forEach((p, i) => {
    if (!p.heldM) return;
    for (let k = 0; k < 3; k++) {
      a[(row + k) * columns + 3 * i + k] = 1;
      misfit[row + k] = p.heldM[k] - places[i][k];
    }
    row += 3;
  });
  return { a, misfit };
}

const heightOf = (p: ArrayLike<number>) => ecefToGeodetic(GRS80, p[0], p[1], p[2])[2];

function normalEquations(a: Float64Array, weight: Float64Array, misfit: Float64Array, rows: number, columns: number) {
  const normal = new Float64Array(columns * columns);
  const right = new Float64Array(columns);
  const pa = product(weight, a, rows, rows, columns);
  for (let r = 0; r < rows; r++)
    for (let i = 0; i < columns; i++) {
      const v = a[r * columns + i];
      if (v === 0) continue;
      for (let j = 0; j < columns; j++) normal[i * columns + j] += v * pa[r * columns + j];
    }
  for (let r = 0; r < rows; r++) for (let i = 0; i < columns; i++) right[i] += pa[r * columns + i] * misfit[r];
  return { normal, right };
}

/** Product of an n × m and an m × p matrix. */
function product(a: Float64Array, b: Float64Array, n: number, m: number, p: number): Float64Array {
  const out = new Float64Array(n * p);
  for (let i = 0; i < n; i++)
    for (let k = 0; k < m; k++) {
      const v = a[i * m + k];
      if (v === 0) continue;
      for (let j = 0; j < p; j++) out[i * p + j] += v * b[k * p + j];
    }
  return out;
}

function result(
  work: Work,
  a: Float64Array,
  weight: Float64Array,
  sigma: Float64Array,
  inverse: Float64Array,
): Adjustment {
  const { points, places, axes, at, observations, rows, columns } = work;
  const residual = linearised(work).misfit.map((v) => -v);
  const aq = product(a, inverse, rows, columns, columns);
  const spread = Float64Array.from(sigma);
  for (let i = 0; i < rows; i++)
    for (let j = 0; j < rows; j++) {
      let v = 0;
      for (let k = 0; k < columns; k++) v += aq[i * columns + k] * a[j * columns + k];
      spread[i * rows + j] -= v;
    }
  const shown = product(spread, weight, rows, rows, rows);
  const weighted = product(weight, residual, rows, rows, 1);
  const ofWeighted = product(weight, shown, rows, rows, rows);
  const sum = residual.reduce((s, v, r) => s + v * weighted[r], 0);
  const freedom = rows - columns;
  const varianceFactor = freedom > 0 ? sum / freedom : Number.NaN;
  const expected: [number, number] =
    freedom > 0
      ? [chiSquareQuantile(0.025, freedom) / freedom, chiSquareQuantile(0.975, freedom) / freedom]
      : [Number.NaN, Number.NaN];
  const scale = varianceFactor > expected[1] ? Math.sqrt(varianceFactor) : 1;
  const checks = points.map(() => 0);
  let row = 0;
  const adjusted = observations.map((observation): AdjustedObservation => {
    const n = rowsOf(observation);
    const [f, t] = [at.get(observation.from)!, at.get(observation.to)!];
    const all = Array.from({ length: n }, (_, k) => row + k);
    row += n;
    const redundancy = all.reduce((s, r) => s + shown[r * rows + r], 0) / n;
    for (const i of [f, t]) checks[i] = Math.max(checks[i], redundancy);
    const tests = all
      .filter((r) => shown[r * rows + r] > 1e-6)
      .map((r) => Math.abs(weighted[r]) / Math.sqrt(Math.max(1e-30, ofWeighted[r * rows + r])));
    const own = all.map((r) => residual[r]);
    return {
      observation,
      lengthM: Math.hypot(...[0, 1, 2].map((k) => places[t][k] - places[f][k])),
      residualM: n === 3 ? apply(axes[f], own) : own,
      redundancy,
      test: tests.length && redundancy > 1e-3 ? Math.max(...tests) : Number.NaN,
    };
  });
  return {
    points: points.map((p, i) => {
      const own = new Float64Array(9);
      for (let r = 0; r < 3; r++)
        for (let c = 0; c < 3; c++) own[3 * r + c] = scale ** 2 * inverse[(3 * i + r) * columns + 3 * i + c];
      const covariance = turned(axes[i], own);
      return {
        name: p.name,
        held: p.heldM !== undefined,
        xyzM: places[i],
        covariance,
        sdM: [0, 4, 8].map((k) => Math.sqrt(Math.max(0, covariance[k]))) as [number, number, number],
        ellipse: ellipseOf(covariance),
        movedM: p.heldM
          ? apply(
              axes[i],
              [0, 1, 2].map((k) => places[i][k] - p.heldM![k]),
            )
          : undefined,
        heldSdM: p.heldM ? (p.heldSdM ?? [0, 0, 0]) : undefined,
        checked: p.heldM !== undefined || checks[i] > CHECKED,
      };
    }),
    observations: adjusted,
    freedom,
    varianceFactor,
    expected,
    scale,
  };
}

const apply = (axes: ArrayLike<number>, v: ArrayLike<number>): [number, number, number] => {
  const along = (r: number) => axes[3 * r] * v[0] + axes[3 * r + 1] * v[1] + axes[3 * r + 2] * v[2];
  return [along(0), along(1), along(2)];
};
