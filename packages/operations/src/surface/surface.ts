import { type SurfaceFigures } from '@longheron/contract/kinds/surface';
import { LAS_CLASS } from '@longheron/core/cloud';
import { part, Problem, tick, type Watch } from '@longheron/core/shared';
import {
  contoursOfGrid,
  fillNear,
  gridFromTin,
  makeTin,
  summariseGrid,
  type Contour,
  type HeightGrid,
  type Tin,
} from '@longheron/core/surface';
import { indicesOfClass, type LoadedCloud } from '../shared/cloud';

export interface Surface {
  tin: Tin;
  grid: HeightGrid;
  contours: Contour[];
  points: number;
  /** Cells filled over triangles that were left out, and beyond the outermost points. */
  filled: { bridged: number; beyond: number };
}

/** Terrain TIN, grid and contours from the points of one class. TIN coordinates are about the cloud's origin. */
export function surfaceOfCloud(
  cloud: LoadedCloud,
  request: { cellM: number; class?: number; maxGapM?: number; contoursM?: number },
  watch?: Watch,
): Surface {
  const cls = request.class ?? LAS_CLASS.ground;
  const indices = indicesOfClass(cloud.points, cls);
  if (indices.length < 3)
    throw new Problem(`The cloud has ${indices.length} points of class ${cls}.`, {
      code: 'surface-class',
      file: cloud.file.source.name,
      remedy: 'Classify the ground first, or choose another class.',
    });
  const x = new Float64Array(indices.length),
    y = new Float64Array(indices.length),
    z = new Float64Array(indices.length);
  const base = cloud.set.origin[2];
  for (let k = 0; k < indices.length; k++) {
    x[k] = cloud.set.x[indices[k]];
    y[k] = cloud.set.y[indices[k]];
    z[k] = cloud.set.z[indices[k]] + base;
  }
  tick(watch, 0, 'Triangulating');
  const maxGapM = request.maxGapM ?? 3;
  const tin = makeTin(x, y, z, maxGapM);
  tick(watch, 0.6, 'Making the grid');
  const [originE, originN] = cloud.set.origin;
  const grid = gridFromTin(tin, originE, originN, request.cellM, part(watch, 0.6, 0.75));
  const filled = fillNear(grid, tin, originE, originN, maxGapM, part(watch, 0.75, 0.8, 'Filling holes'));
  const contours = request.contoursM
    ? contoursOfGrid(grid, request.contoursM, part(watch, 0.8, 1, 'Tracing contours'))
    : [];
  return { tin, grid, contours, points: indices.length, filled };
}

export function surfaceFigures(surface: Surface): SurfaceFigures {
  const s = summariseGrid(surface.grid);
  let triangles = 0;
  for (const h of surface.tin.hole) if (!h) triangles++;
  return {
    points: surface.points,
    triangles,
    cells: s.cells,
    empty_cells: s.emptyCells,
    bridged_cells: surface.filled.bridged,
    cells_beyond_points: surface.filled.beyond,
    height_min_m: Number.isFinite(s.minM) ? s.minM : null,
    height_max_m: Number.isFinite(s.maxM) ? s.maxM : null,
    contours: surface.contours.length,
  };
}
