import { tick, type Watch } from '../shared/progress';
import { sortIntoCells } from './cells';
import { type PointSet } from './points';
import { NeighbourShapes } from './shape';

export interface SmoothSettings {
  /** Neighbours within this count, metres. */
  radiusM: number;
  /** A neighbourhood thicker than this (1 SD across it) is no surface, metres. */
  thickM: number;
  /** No point is moved farther, metres: what stands out more is something else. */
  mostM: number;
}
export const SMOOTH_DEFAULTS: SmoothSettings = { radiusM: 0.3, thickM: 0.025, mostM: 0.05 };

const NEIGHBOURS = 24;
const FEWEST = 8;
/** Across the least wide way a surface reaches at least this part of its widest: less is a wire or an edge. */
const MIN_WIDTH = 0.1;
/** And is thinner than this part of that width, as variances. */
const THINNEST = 0.1;

export interface Smoothed {
  /** Moves of each point, metres. */
  dx: Float32Array;
  dy: Float32Array;
  dz: Float32Array;
  moved: number;
  rmsM: number;
  mostM: number;
}

/**
 * Moves points of surfaces along the normal onto the plane of their nearest neighbours (by the covariance of up to 24
 * within a radius), which takes the noise of ranges out. What is no surface stays: wires and poles (one long direction),
 * leaves and edges (thick), and points off the plane.
 * @param skip 1 for points that neither move nor count.
 */
export function smoothSurfaces(set: PointSet, skip: Uint8Array, settings: SmoothSettings, watch?: Watch): Smoothed {
  // in the order of cells, so that neighbours lie near each other in memory too
  const at = sortIntoCells(set, settings.radiusM, skip).order;
  const p = {
    x: Float64Array.from(at, (i) => set.x[i]),
    y: Float64Array.from(at, (i) => set.y[i]),
    z: Float64Array.from(at, (i) => set.z[i]),
  };
  const out: Smoothed = {
    dx: new Float32Array(set.count),
    dy: new Float32Array(set.count),
    dz: new Float32Array(set.count),
    moved: 0,
    rmsM: 0,
    mostM: 0,
  };
  if (at.length === 0) return out;
  const shapes = new NeighbourShapes(p, settings.radiusM, NEIGHBOURS, FEWEST);
  let sum = 0;
  for (let k = 0; k < at.length; k++) {
    if ((k & 0x3fff) === 0) tick(watch, k / at.length, 'Smoothing surfaces');
    const found = shapes.at(k);
    if (!found) continue;
    const [l1, l2, l3] = found.values;
    if (l2 < MIN_WIDTH ** 2 * l1 || l3 > THINNEST * l2 || l3 > found.count * settings.thickM ** 2) continue;
    const [nx, ny, nz] = found.vectors[2];
    const [mx, my, mz] = found.mean;
    const d = (p.x[k] - mx) * nx + (p.y[k] - my) * ny + (p.z[k] - mz) * nz;
    if (Math.abs(d) > settings.mostM) continue;
    const i = at[k];
    out.dx[i] = -d * nx;
    out.dy[i] = -d * ny;
    out.dz[i] = -d * nz;
    out.moved++;
    sum += d * d;
    if (Math.abs(d) > out.mostM) out.mostM = Math.abs(d);
  }
  out.rmsM = out.moved ? Math.sqrt(sum / out.moved) : 0;
  tick(watch, 1);
  return out;
}
