/**
 * Eigenvalues of a symmetric 3 × 3 matrix in closed form (Smith 1961) and the unit vector of the smallest one, as the
 * longest cross product of two rows of A − λI. Allocates nothing.
 * @param out values ascending at 0…2, the vector of the smallest at 3…5.
 */
export function smallestAxis(
  xx: number,
  xy: number,
  xz: number,
  yy: number,
  yz: number,
  zz: number,
  out: Float64Array,
): void {
  const off = xy * xy + xz * xz + yz * yz;
  const q = (xx + yy + zz) / 3;
  const [a, b, c] = [xx - q, yy - q, zz - q];
  const p = Math.sqrt((a * a + b * b + c * c + 2 * off) / 6);
  if (!(p > 0)) {
    out[0] = out[1] = out[2] = q;
    out[3] = out[4] = 0;
    out[5] = 1;
    return;
  }
  const det = a * (b * c - yz * yz) - xy * (xy * c - yz * xz) + xz * (xy * yz - b * xz);
  const r = Math.max(-1, Math.min(1, det / (2 * p * p * p)));
  const phi = Math.acos(r) / 3;
  const largest = q + 2 * p * Math.cos(phi);
  const smallest = q + 2 * p * Math.cos(phi + (2 * Math.PI) / 3);
  out[0] = smallest;
  out[1] = 3 * q - largest - smallest;
  out[2] = largest;
  const [d, e, f] = [xx - smallest, yy - smallest, zz - smallest];
  let best = 0;
  for (let k = 0; k < 3; k++) {
    const x = k === 0 ? xy * yz - xz * e : k === 1 ? xy * f - xz * yz : e * f - yz * yz;
    const y = k === 0 ? xz * xy - d * yz : k === 1 ? xz * xz - d * f : yz * xz - xy * f;
    const z = k === 0 ? d * e - xy * xy : k === 1 ? d * yz - xy * xz : xy * yz - e * xz;
    const norm = x * x + y * y + z * z;
    if (norm <= best) continue;
    best = norm;
    const scale = 1 / Math.sqrt(norm);
    out[3] = x * scale;
    out[4] = y * scale;
    out[5] = z * scale;
  }
  if (best > 0) return;
  out[3] = out[4] = 0;
  out[5] = 1;
}
