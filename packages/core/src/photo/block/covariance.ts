import { Cholesky } from '../../numeric/cholesky';
import { Envelope } from '../../numeric/envelope';
import { Problem } from '../../shared/problem';
import { TERMS } from './model';
import { AT, RAY } from './ray';
import { type Solver } from './solve';

/** Covariances of an adjusted block: of everything in the equations as far as their envelope goes, and of the points. */
export interface Covariances {
  /** Of unknowns in the equations; NaN where it was not computed. */
  of(row: number, column: number): number;
  /** Of a point, upper half by rows, m²; undefined where rays do not tell its place. */
  point(p: number): Float64Array | undefined;
}

/** @param loose whether nothing says where the block lies and how it is turned, or how large it is. */
export function covariancesOf(solver: Solver, loose: { place: boolean; scale: boolean }): Covariances {
  const { normals, linear, state, weights } = solver;
  normals.fill(linear, state, weights, 0);
  const inverse = loose.place ? freeInverse(solver, loose.scale) : heldInverse(normals.matrix);
  const of = (row: number, column: number) => (row < column ? inverse(column, row) : inverse(row, column));
  return { of, point: pointCovariances(solver, of) };
}

function heldInverse(matrix: Envelope): (row: number, column: number) => number {
  const factor = matrix.copy();
  if (!factor.factor())
    throw new Problem('The block cannot be adjusted: its equations have no single solution.', {
      code: 'block-loose',
      remedy: 'Bring more ties between its pictures, or leave out those that hang on few.',
    });
  const z = factor.inverse();
  return (row, column) => (column < z.first[row] ? Number.NaN : z.values[z.at(row, column)]);
}

/** Directions in which a free block may be moved, turned and stretched: changes of all unknowns, column by column. */
function motions(solver: Solver, scale: boolean): Float64Array[] {
  const { layout, state, block } = solver;
  const out: Float64Array[] = [];
  const column = (shift: (x: number, y: number, z: number) => number[], turn: number[]) => {
    const v = new Float64Array(layout.size);
    block.images.forEach((_, i) => {
      const at = layout.imageAt[i];
      v.set(shift(state.centres[3 * i], state.centres[3 * i + 1], state.centres[3 * i + 2]), at);
      const r = state.rotations.subarray(9 * i, 9 * i + 9);
      for (let k = 0; k < 3; k++) v[at + 3 + k] = r[k] * turn[0] + r[3 + k] * turn[1] + r[6 + k] * turn[2];
    });
    block.points.forEach((_, p) => {
      if (layout.pointAt[p] >= 0)
        v.set(shift(state.points[3 * p], state.points[3 * p + 1], state.points[3 * p + 2]), layout.pointAt[p]);
    });
    out.push(v);
  };
  const none = [0, 0, 0];
  column(() => [1, 0, 0], none);
  column(() => [0, 1, 0], none);
  column(() => [0, 0, 1], none);
  column((_x, y, z) => [0, -z, y], [1, 0, 0]);
  column((x, _y, z) => [z, 0, -x], [0, 1, 0]);
  column((x, y) => [-y, x, 0], [0, 0, 1]);
  if (scale) column((x, y, z) => [x, y, z], none);
  return out;
}

/**
 * The inverse under inner constraints: of all positions of the same precision that one whose set-ups are shifted, turned
 * and stretched by nothing in the mean (Mikhail & Ackermann 1976, 14).
 */
function freeInverse(solver: Solver, scale: boolean): (row: number, column: number) => number {
  const { layout, block } = solver;
  const { matrix } = solver.normals;
  const n = layout.size;
  const h = motions(solver, scale);
  // the constraints have a say in set-ups alone
  const poses = 6 * block.images.length;
  const g = h.map((v) => {
    const c = v.map((x, i) => (i < poses ? x : 0));
    const length = Math.hypot(...c.subarray(0, poses));
    return c.map((x) => x / length);
  });
  const size = Math.max(...Array.from({ length: poses }, (_, i) => matrix.values[matrix.at(i, i)]));
  const whole = new Float64Array(n * n);
  for (let i = 0; i < n; i++)
    for (let j = 0; j <= i; j++) {
      let v = j < matrix.first[i] ? 0 : matrix.values[matrix.at(i, j)];
      for (const c of g) v += size * c[i] * c[j];
      whole[i * n + j] = whole[j * n + i] = v;
    }
  const inverse = Cholesky.of(whole, n)?.inverse();
  if (!inverse)
    throw new Problem('The block cannot be adjusted: its pictures do not hang together.', {
      code: 'block-loose',
      remedy: 'Measure more points that several pictures see, or leave out pictures that hang on few.',
    });
  // what the constraints themselves put in: H·(GᵀH)⁻¹·(GᵀH)⁻ᵀ·Hᵀ / size
  const m = h.length;
  const gh = new Float64Array(m * m);
  for (let a = 0; a < m; a++)
    for (let b = 0; b < m; b++) for (let i = 0; i < n; i++) gh[a * m + b] += g[a][i] * h[b][i];
  const ghg = new Float64Array(m * m);
  for (let a = 0; a < m; a++)
    for (let b = 0; b < m; b++) for (let k = 0; k < m; k++) ghg[a * m + b] += gh[k * m + a] * gh[k * m + b];
  const inner = Cholesky.of(ghg, m)!.inverse();
  const added = h.map((_, a) => {
    const out = new Float64Array(n);
    for (let b = 0; b < m; b++) for (let i = 0; i < n; i++) out[i] += (inner[a * m + b] * h[b][i]) / size;
    return out;
  });
  return (row, column) => {
    let v = inverse[row * n + column];
    for (let a = 0; a < m; a++) v -= h[a][row] * added[a][column];
    return v;
  };
}

/** Covariances of points as they are asked for, from the equations as they were. */
function pointCovariances(
  { block, layout, normals, linear, weights, images }: Solver,
  of: (row: number, column: number) => number,
): Covariances['point'] {
  const j = linear.values;
  const columns = new Int32Array(6 * layout.mostRays + layout.termAt.length);
  const w = new Float64Array(3 * columns.length);
  const t = new Float64Array(3 * columns.length);
  const slot = new Map<number, number>();
  return (p) => {
    const kept = layout.pointAt[p];
    if (kept >= 0) {
      const out: number[] = [];
      for (let a = 0; a < 3; a++) for (let b = a; b < 3; b++) out.push(of(kept + b, kept + a));
      return Float64Array.from(out);
    }
    let n = 0;
    slot.clear();
    const add = (column: number, u: number, v: number, weight: number, at: number) => {
      let k = slot.get(column);
      if (k === undefined) {
        slot.set(column, (k = n++));
        columns[k] = column;
        w.fill(0, 3 * k, 3 * k + 3);
      }
      for (let b = 0; b < 3; b++) w[3 * k + b] += weight * (u * j[at + AT.point + b] + v * j[at + AT.point + 3 + b]);
    };
    for (let k = layout.from[p]; k < layout.from[p + 1]; k++) {
      const r = layout.ray[k];
      const weight = linear.ahead[r] ? weights.ray[r] : 0;
      if (weight === 0) continue;
      const at = RAY * r;
      const pose = layout.imageAt[block.rays.image[r]];
      for (let a = 0; a < 6; a++) add(pose + a, j[at + AT.pose + a], j[at + AT.pose + 6 + a], weight, at);
      const camera = TERMS * images.camera[block.rays.image[r]];
      for (let a = 0; a < TERMS; a++) {
        const column = layout.termAt[camera + a];
        if (column >= 0) add(column, j[at + AT.camera + a], j[at + AT.camera + TERMS + a], weight, at);
      }
    }
    if (!n) return undefined;
    // V⁻¹ + V⁻¹·Wᵀ·Z·W·V⁻¹
    const v = normals.inverse.subarray(6 * p, 6 * p + 6);
    for (let a = 0; a < n; a++) {
      const [x, y, z] = [w[3 * a], w[3 * a + 1], w[3 * a + 2]];
      t[3 * a] = v[0] * x + v[1] * y + v[2] * z;
      t[3 * a + 1] = v[1] * x + v[3] * y + v[4] * z;
      t[3 * a + 2] = v[2] * x + v[4] * y + v[5] * z;
    }
    const out = v.slice();
    for (let a = 0; a < n; a++)
      for (let b = 0; b < n; b++) {
        const z = of(columns[a], columns[b]);
        let k = 0;
        for (let c = 0; c < 3; c++) for (let d = c; d < 3; d++) out[k++] += t[3 * a + c] * z * t[3 * b + d];
      }
    return out;
  };
}
