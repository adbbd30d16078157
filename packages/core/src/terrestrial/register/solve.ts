import { Cholesky } from '../../numeric/cholesky';
import { multiply3 } from '../../numeric/matrix3';
import { turnOf } from '../../numeric/turn';
import { rowsOf, type Rows, type Work } from './rows';
import { addTies, measure } from './surfaces/ties';
import { type SurfaceTies } from './surfaces';

const MOST_ROUNDS = 20;
const SETTLED = 1e-9;
/** With surfaces nothing moves farther than this for certain: what they leave open stays as it began, metres and radians. */
const OPEN_M = 3;
const OPEN_RAD = 0.3;

/** Normal equations of all that is known but surfaces, with six unknowns a scan and three a target. */
export function normalOf(work: Work, rows: readonly Rows[]): { n: number; normal: Float64Array; right: Float64Array } {
  const n = 6 * work.scans.length + 3 * work.names.length;
  const normal = new Float64Array(n * n);
  const right = new Float64Array(n);
  for (const { a, misfit, sd } of rows)
    a.forEach((row, k) => {
      const w = 1 / sd[k] ** 2;
      for (const [i, v] of row) {
        right[i] += w * v * misfit[k];
        for (const [j, u] of row) normal[i * n + j] += w * v * u;
      }
    });
  return { n, normal, right };
}

/** Surfaces as they count where the scans are now. */
export function addSurfaces(
  { patches, all, scale }: SurfaceTies,
  { poses }: Work,
  normal: Float64Array,
  right: Float64Array | undefined,
  n: number,
): void {
  for (const ties of all) {
    measure(ties, patches, poses);
    addTies(ties, patches, poses, scale, 0, normal, right, n);
  }
}

/**
 * One step of least squares; poses and targets move.
 * @param add adds what surfaces tell.
 * @returns the factor of the equations, and how far anything moved at most; undefined where they leave something open.
 */
export function step(
  work: Work,
  rows: readonly Rows[],
  add?: (normal: Float64Array, right: Float64Array, n: number) => void,
): { factor: Cholesky; moved: number } | undefined {
  const { scans, poses, places } = work;
  const { n, normal, right } = normalOf(work, rows);
  if (add) {
    add(normal, right, n);
    for (let i = 0; i < 6 * scans.length; i++) normal[i * (n + 1)] += 1 / (i % 6 < 3 ? OPEN_M : OPEN_RAD) ** 2;
  }
  const factor = Cholesky.of(normal, n);
  if (!factor) return undefined;
  const x = factor.solve(right);
  let moved = 0;
  poses.forEach((p, i) => {
    for (let k = 0; k < 3; k++) p.atM[k] += x[6 * i + k];
    p.rotation = multiply3(p.rotation, turnOf(x[6 * i + 3], x[6 * i + 4], x[6 * i + 5]));
    for (let k = 0; k < 6; k++) moved = Math.max(moved, Math.abs(x[6 * i + k]));
  });
  places.forEach((p, t) => {
    for (let k = 0; k < 3; k++) p[k] += x[6 * scans.length + 3 * t + k];
  });
  return { factor, moved };
}

/** Least squares to the end. @returns its equations and the inverse of the last normal equations, n × n, as {@link step}. */
export function solve(work: Work): { rows: Rows[]; inverse: Float64Array; n: number } | undefined {
  const { surfaces } = work;
  const add = surfaces && ((a: Float64Array, b: Float64Array, n: number) => addSurfaces(surfaces, work, a, b, n));
  for (let round = 0; ; round++) {
    const stepped = step(work, rowsOf(work), add);
    if (!stepped) return undefined;
    const { factor, moved } = stepped;
    if (moved < SETTLED || round === MOST_ROUNDS - 1)
      return { rows: rowsOf(work), inverse: factor.inverse(), n: 6 * work.scans.length + 3 * work.names.length };
  }
}
