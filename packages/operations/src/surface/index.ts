import { LAS_CLASS } from '@longheron/core/cloud';
import { type ReferenceSystem } from '@longheron/core/frames';
import { part, Problem, tick, type Watch } from '@longheron/core/shared';
import {
  contoursOfGrid,
  gridFromTin,
  makeTin,
  summariseGrid,
  type Contour,
  type HeightGrid,
  type Tin,
} from '@longheron/core/surface';
import { writeAsciiGrid } from '@longheron/formats/asciigrid';
import { writeContoursDxf } from '@longheron/formats/dxf';
import { writeContoursGeoJson } from '@longheron/formats/geojson';
import { writeGeoTiff } from '@longheron/formats/geotiff';
import { writeLandXml } from '@longheron/formats/landxml';
import { indicesOfClass, loadCloud, type LoadedCloud } from '../cloud';
import { ReportBuilder, type Report } from '../shared';

export interface SurfaceRequest {
  cloudPath: string;
  cellM: number;
  class?: number;
  maxGapM?: number;
  crs?: string;
  outPath?: string;
  ascPath?: string;
  contoursM?: number;
  contoursPath?: string;
  dxfPath?: string;
  landXmlPath?: string;
  lonLat?: boolean;
}

export interface Surface {
  tin: Tin;
  grid: HeightGrid;
  contours: Contour[];
  points: number;
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
  const tin = makeTin(x, y, z, request.maxGapM ?? 3);
  tick(watch, 0.6, 'Making the grid');
  const grid = gridFromTin(tin, cloud.set.origin[0], cloud.set.origin[1], request.cellM, part(watch, 0.6, 0.8));
  const contours = request.contoursM
    ? contoursOfGrid(grid, request.contoursM, part(watch, 0.8, 1, 'Tracing contours'))
    : [];
  return { tin, grid, contours, points: indices.length };
}

export function surfaceFigures(surface: Surface): Record<string, unknown> {
  const s = summariseGrid(surface.grid);
  let triangles = 0;
  for (const h of surface.tin.hole) if (!h) triangles++;
  return {
    points: surface.points,
    triangles,
    cells: s.cells,
    empty_cells: s.emptyCells,
    height_min_m: Number.isFinite(s.minM) ? s.minM : null,
    height_max_m: Number.isFinite(s.maxM) ? s.maxM : null,
    contours: surface.contours.length,
  };
}

/** Makes and writes surfaces from a file. */
export async function surfaceFile(request: SurfaceRequest, watch?: Watch): Promise<Report> {
  const builder = new ReportBuilder('surface', {
    cell_m: request.cellM,
    class: request.class ?? LAS_CLASS.ground,
    max_gap_m: request.maxGapM ?? 3,
    contours_m: request.contoursM ?? null,
  });
  await builder.input(request.cloudPath);
  const cloud = await loadCloud(request.cloudPath, request.crs, part(watch, 0, 0.3));
  try {
    builder.notices.push(...cloud.notices);
    const system: ReferenceSystem | undefined = cloud.system;
    const surface = surfaceOfCloud(cloud, request, part(watch, 0.3, 0.8));
    const needs = () => {
      if (!system)
        throw new Problem('The cloud names no coordinate system, which this output needs.', {
          code: 'surface-crs',
          file: cloud.file.source.name,
          remedy: 'Give it with --crs EPSG:25832+5773.',
        });
      return system;
    };
    if (request.outPath) await writeGeoTiff(request.outPath, surface.grid, needs().definition);
    if (request.ascPath) await writeAsciiGrid(request.ascPath, surface.grid);
    if (request.contoursPath)
      await writeContoursGeoJson(request.contoursPath, surface.contours, needs(), request.lonLat);
    if (request.dxfPath) await writeContoursDxf(request.dxfPath, surface.contours, needs().definition);
    if (request.landXmlPath)
      await writeLandXml(request.landXmlPath, surface.tin, {
        name: 'ground',
        originE: cloud.set.origin[0],
        originN: cloud.set.origin[1],
        system: needs().definition,
        date: new Date(),
      });
    tick(watch, 1);
    return builder.finish(system?.label ?? null, surfaceFigures(surface));
  } finally {
    await cloud.file.close();
  }
}
