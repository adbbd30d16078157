import { median } from './statistics';

/** A plane z = z0 + slopeX·x + slopeY·y about the origin its points are given in. */
export interface HeightPlane {
  z0: number;
  slopeX: number;
  slopeY: number;
  /** SD of the residuals, n − 3 degrees of freedom (weighted), NaN when there are none. */
  sd: number;
  /** SD of z0 from the residuals and the geometry. */
  z0Sd: number;
  /** Points with a weight above one half. */
  used: number;
}

/**
 * Least-squares plane through points, with Huber-then-Tukey weights iterated on the residuals (Huber 1964; Beaton &
 * Tukey 1974), so that a fifth of outliers do not move it. Returns undefined when fewer than three points or all
 * on a line.
 * @param x, y, z coordinates in metres about a local origin near the point of interest.
 */
export function robustPlane(x: ArrayLike<number>, y: ArrayLike<number>, z: ArrayLike<number>): HeightPlane | undefined {
  const n = x.length;
  if (n < 3) return undefined;
  const weight = new Float64Array(n).fill(1);
  const residual = new Float64Array(n);
  const start = median(z);
  let plane: HeightPlane | undefined;
  for (let pass = 0; pass < 8; pass++) {
    let sw = 0,
      sx = 0,
      sy = 0,
      sz = 0,
      sxx = 0,
      sxy = 0,
      syy = 0,
      sxz = 0,
      syz = 0;
    for (let i = 0; i < n; i++) {
      const w = weight[i];
      const dz = z[i] - start;
      sw += w;
      sx += w * x[i];
      sy += w * y[i];
      sz += w * dz;
      sxx += w * x[i] * x[i];
      sxy += w * x[i] * y[i];
      syy += w * y[i] * y[i];
      sxz += w * x[i] * dz;
      syz += w * y[i] * dz;
    }
    if (sw < 3) return plane;
    const cxx = sxx - (sx * sx) / sw;
    const cxy = sxy - (sx * sy) / sw;
    const cyy = syy - (sy * sy) / sw;
    const cxz = sxz - (sx * sz) / sw;
    const cyz = syz - (sy * sz) / sw;
    const det = cxx * cyy - cxy * cxy;
    if (!(det > 1e-9 * (cxx + cyy) * (cxx + cyy))) return plane;
    const slopeX = (cxz * cyy - cyz * cxy) / det;
    const slopeY = (cyz * cxx - cxz * cxy) / det;
    const mx = sx / sw;
    const my = sy / sw;
    const z0 = start + sz / sw - slopeX * mx - slopeY * my;
    let squares = 0;
    let used = 0;
    for (let i = 0; i < n; i++) {
      residual[i] = z[i] - (z0 + slopeX * x[i] + slopeY * y[i]);
      squares += weight[i] * residual[i] * residual[i];
      if (weight[i] > 0.5) used++;
    }
    const sd = sw > 3 ? Math.sqrt(squares / (sw - 3)) : Number.NaN;
    const geometry = 1 / sw + (mx * mx * cyy - 2 * mx * my * cxy + my * my * cxx) / det;
    plane = { z0, slopeX, slopeY, sd, z0Sd: sd * Math.sqrt(geometry), used };
    const absolute = Float64Array.from(residual, Math.abs);
    const scale = Math.max(1.4826 * median(absolute), 1e-4);
    for (let i = 0; i < n; i++) {
      const t = Math.abs(residual[i]) / scale;
      if (pass < 3) weight[i] = t <= 1.345 ? 1 : 1.345 / t;
      else weight[i] = t < 4.685 ? (1 - (t / 4.685) ** 2) ** 2 : 0;
    }
  }
  return plane;
}
