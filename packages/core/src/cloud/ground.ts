import { tick, type Watch } from '../shared/progress';
import { heightInTriangle, makeTin, TinWalker, type Tin } from '../surface/tin';
import { sortIntoCells, supportedLowest, type Cells } from './cells';
import { type PointSet } from './points';

export interface GroundSettings {
  /** Larger than the largest thing without ground inside it, metres. */
  largestObjectM: number;
  /** Steepest true slope over short distances, degrees; kerbs and walls stand steeper. */
  steepestDeg: number;
  /** Finest cell: one candidate height a cell, metres. */
  cellM: number;
  /** A point this near the final surface is ground, metres. */
  withinM: number;
}

export const GROUND_DEFAULTS: GroundSettings = { largestObjectM: 20, steepestDeg: 40, cellM: 0.5, withinM: 0.08 };

/**
 * Ground by progressive densification of a TIN (Axelsson 2000), coarse to fine: the lowest supported height of each
 * 20 m cell starts the surface; cells are halved step by step, and the lowest height of each joins when it stands at
 * no more than the steepest slope above its triangle, seen from the triangle's nearest corner. The accepted cells
 * are then replaced by the mean of the points near them, and every point is judged by its distance to that surface.
 * @param skip 1 for points to leave out (strays).
 * @returns 1 for each ground point.
 */
export function findGround(
  points: PointSet,
  settings: GroundSettings = GROUND_DEFAULTS,
  skip?: Uint8Array,
  watch?: Watch,
): Uint8Array {
  const ground = new Uint8Array(points.count);
  tick(watch, 0, 'Sorting into cells');
  const cells = sortIntoCells(points, settings.cellM, skip);
  if (cells.order.length < 3) return ground;
  const lowest = supportedLowest(points, cells);
  tick(watch, 0.3, 'Densifying the surface');
  const accepted = densify(points, cells, lowest, settings, watch);
  tick(watch, 0.6, 'Refining the surface');
  const surface = refine(points, cells, accepted, settings);
  tick(watch, 0.75, 'Judging points');
  const walker = new TinWalker(surface);
  const { x, y, z } = points;
  // cell by cell, so that the walk to the next triangle is short whatever the order of the points
  const { order } = cells;
  for (let k = 0; k < order.length; k++) {
    if ((k & 0x3ffff) === 0) tick(watch, 0.75 + (0.25 * k) / order.length, 'Judging points');
    const i = order[k];
    const t = walker.locate(x[i], y[i]);
    if (t < 0) continue;
    const dz = z[i] - heightInTriangle(surface, t, x[i], y[i]);
    if (
      dz > -2 * settings.withinM &&
      dz < 2 * settings.withinM &&
      Math.abs(dz) * cosineOfSlope(surface, t) <= settings.withinM
    )
      ground[i] = 1;
  }
  tick(watch, 1);
  return ground;
}

/** Indices of points that carry the surface. */
function densify(
  points: PointSet,
  cells: Cells,
  lowest: Int32Array,
  settings: GroundSettings,
  watch?: Watch,
): Int32Array {
  const { x, y, z } = points;
  const levels: number[] = [];
  for (let s = settings.largestObjectM; s > settings.cellM * 1.5; s /= 2) levels.push(s);
  levels.push(settings.cellM);
  const inside = new Uint8Array(lowest.length);
  const steep = Math.tan((settings.steepestDeg * Math.PI) / 180);
  levels.forEach((size, level) => {
    const candidates = lowestOfBlocks(points, cells, lowest, Math.max(1, Math.round(size / settings.cellM)));
    if (level === 0) {
      for (const c of candidates) inside[c] = 1;
      return;
    }
    for (let pass = 0; pass < 4; pass++) {
      tick(watch, 0.3 + (0.3 * (level + pass / 4)) / levels.length, 'Densifying the surface');
      const tin = framedTin(points, lowest, inside);
      const walker = new TinWalker(tin);
      let added = 0;
      const joining: number[] = [];
      for (const c of candidates) {
        if (inside[c]) continue;
        const p = lowest[c];
        const t = walker.locate(x[p], y[p]);
        if (t < 0) continue;
        const dz = Math.abs(z[p] - heightInTriangle(tin, t, x[p], y[p])) * cosineOfSlope(tin, t);
        let near = Infinity;
        for (let k = 0; k < 3; k++) {
          const v = tin.triangles[3 * t + k];
          near = Math.min(near, Math.hypot(tin.x[v] - x[p], tin.y[v] - y[p]));
        }
        // 4 cm of noise is forgiven; then slope from the nearest corner, and no leap larger than a third of the cell
        if (dz <= 0.04 + steep * Math.min(near, size) * 0.5 && dz <= 0.1 + size / 3) joining.push(c);
      }
      for (const c of joining) {
        inside[c] = 1;
        added++;
      }
      if (added < candidates.length * 0.002) break;
    }
  });
  const out: number[] = [];
  for (let c = 0; c < inside.length; c++) if (inside[c]) out.push(lowest[c]);
  return Int32Array.from(out);
}

/** The cell with the lowest height in each block of `size` × `size` cells. */
function lowestOfBlocks(points: PointSet, cells: Cells, lowest: Int32Array, size: number): Int32Array {
  const out: number[] = [];
  for (let r0 = 0; r0 < cells.rows; r0 += size) {
    for (let c0 = 0; c0 < cells.columns; c0 += size) {
      let best = -1;
      for (let r = r0; r < Math.min(r0 + size, cells.rows); r++) {
        for (let c = c0; c < Math.min(c0 + size, cells.columns); c++) {
          const at = r * cells.columns + c;
          if (lowest[at] >= 0 && (best < 0 || points.z[lowest[at]] < points.z[lowest[best]])) best = at;
        }
      }
      if (best >= 0) out.push(best);
    }
  }
  return Int32Array.from(out);
}

/** TIN of the accepted cells, framed by eight far points at the height of the nearest accepted one. */
function framedTin(points: PointSet, lowest: Int32Array, inside: Uint8Array): Tin {
  let count = 0;
  for (let c = 0; c < inside.length; c++) count += inside[c];
  const x = new Float64Array(count + 8),
    y = new Float64Array(count + 8),
    z = new Float64Array(count + 8);
  let n = 0;
  for (let c = 0; c < inside.length; c++) {
    if (!inside[c]) continue;
    x[n] = points.x[lowest[c]];
    y[n] = points.y[lowest[c]];
    z[n++] = points.z[lowest[c]];
  }
  return frame(x, y, z, n);
}

function frame(x: Float64Array, y: Float64Array, z: Float64Array, n: number): Tin {
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

/** The mean of the points near the rough surface in each accepted cell makes the final one. */
function refine(points: PointSet, cells: Cells, accepted: Int32Array, settings: GroundSettings): Tin {
  const { x, y, z } = points;
  const sx: number[] = [],
    sy: number[] = [],
    sz: number[] = [];
  for (const p of accepted) {
    const c =
      Math.floor((y[p] - cells.minY) / cells.cellM) * cells.columns + Math.floor((x[p] - cells.minX) / cells.cellM);
    let n = 0,
      mx = 0,
      my = 0,
      mz = 0;
    // lowest heights lie about two SD under the surface: take what lies from a little under to above
    for (let i = cells.start[c]; i < cells.start[c + 1]; i++) {
      const j = cells.order[i];
      const dz = z[j] - z[p];
      if (dz < -0.05 || dz > 1.5 * settings.withinM + 0.5 * cells.cellM * 0.3) continue;
      n++;
      mx += x[j];
      my += y[j];
      mz += z[j];
    }
    sx.push(mx / n);
    sy.push(my / n);
    sz.push(mz / n);
  }
  const n = sx.length;
  const fx = new Float64Array(n + 8),
    fy = new Float64Array(n + 8),
    fz = new Float64Array(n + 8);
  fx.set(sx);
  fy.set(sy);
  fz.set(sz);
  return frame(fx, fy, fz, n);
}

function cosineOfSlope(tin: Tin, t: number): number {
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
