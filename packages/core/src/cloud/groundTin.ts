import { makeTin, type Tin } from '../surface/tin';

/**
 * A TIN framed by eight far points at the height of the nearest vertex, so that every place near the cloud lies in a
 * triangle. @param x, y, z room for n vertices and the eight, which are filled in.
 */
export function framed(x: Float64Array, y: Float64Array, z: Float64Array, n: number): Tin {
  let minX = Infinity,
    minY = Infinity,
    maxX = -Infinity,
    maxY = -Infinity;
  for (let i = 0; i < n; i++) {
    minX = Math.min(minX, x[i]);
    maxX = Math.max(maxX, x[i]);
    minY = Math.min(minY, y[i]);
    maxY = Math.max(maxY, y[i]);
  }
  const margin = 30;
  const mx = (minX + maxX) / 2,
    my = (minY + maxY) / 2;
  const corners = [
    [minX - margin, minY - margin],
    [mx, minY - margin],
    [maxX + margin, minY - margin],
    [maxX + margin, my],
    [maxX + margin, maxY + margin],
    [mx, maxY + margin],
    [minX - margin, maxY + margin],
    [minX - margin, my],
  ];
  corners.forEach(([cx, cy], k) => {
    let near = Infinity;
    let height = 0;
    for (let i = 0; i < n; i++) {
      const d = (x[i] - cx) ** 2 + (y[i] - cy) ** 2;
      if (d < near) {
        near = d;
        height = z[i];
      }
    }
    x[n + k] = cx;
    y[n + k] = cy;
    z[n + k] = height;
  });
  return makeTin(x, y, z);
}

/** Cosine of the angle between a triangle and the level. */
export function cosineOfSlope(tin: Tin, t: number): number {
  const a = tin.triangles[3 * t],
    b = tin.triangles[3 * t + 1],
    c = tin.triangles[3 * t + 2];
  const ux = tin.x[b] - tin.x[a],
    uy = tin.y[b] - tin.y[a],
    uz = tin.z[b] - tin.z[a];
  const vx = tin.x[c] - tin.x[a],
    vy = tin.y[c] - tin.y[a],
    vz = tin.z[c] - tin.z[a];
  const nx = uy * vz - uz * vy,
    ny = uz * vx - ux * vz,
    nz = ux * vy - uy * vx;
  const norm = Math.sqrt(nx * nx + ny * ny + nz * nz);
  return norm > 0 ? Math.abs(nz) / norm : 1;
}
