/**
 * Inverse of a symmetric 3 × 3 matrix, upper half by rows, written at a place. Zero where it is as good as singular: rays that
 * are as good as parallel tell nothing of their point, and it then tells nothing of them.
 */
export function invertInto(
  out: Float64Array,
  at: number,
  xx: number,
  xy: number,
  xz: number,
  yy: number,
  yz: number,
  zz: number,
): void {
  const a = yy * zz - yz * yz;
  const b = xz * yz - xy * zz;
  const c = xy * yz - xz * yy;
  const det = xx * a + xy * b + xz * c;
  const f = det > 1e-14 * xx * yy * zz ? 1 / det : 0;
  out[at] = f * a;
  out[at + 1] = f * b;
  out[at + 2] = f * c;
  out[at + 3] = f * (xx * zz - xz * xz);
  out[at + 4] = f * (xy * xz - xx * yz);
  out[at + 5] = f * (xx * yy - xy * xy);
}
