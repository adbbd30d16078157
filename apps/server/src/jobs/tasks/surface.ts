import sharp from 'sharp';
import { part, tick, type Watch } from '@longheron/core/shared';
import {
  gridDifference,
  gridHighest,
  hillShade,
  thinTin,
  type HeightGrid,
  type ThinTin,
} from '@longheron/core/surface';
import { parseSystem } from '@longheron/formats/crs';
import { writeAsciiGrid } from '@longheron/formats/asciigrid';
import { writeContoursDxf } from '@longheron/formats/dxf';
import { writeContoursGeoJson } from '@longheron/formats/geojson';
import { writeGeoTiff } from '@longheron/formats/geotiff';
import { writeLandXml } from '@longheron/formats/landxml';
import { indicesOfClass, loadCloud } from '@longheron/operations/cloud';
import { surfaceFigures, surfaceOfCloud } from '@longheron/operations/surface';
import { objectPath, Shelf } from './shelf';
import { type TaskRequest, type TaskResult } from './types';

/** Terrain grid, highest surface, height above ground, TIN, contours, and all their files. */
export async function surface(r: TaskRequest, watch: Watch): Promise<TaskResult> {
  const p = r.payload as {
    las: string;
    crs: string;
    cellM: number;
    maxGapM: number;
    contoursM: number;
    tinSpacingM: number;
    name: string;
  };
  const shelf = new Shelf(r.storeFolder);
  const cloud = await loadCloud(objectPath(r.storeFolder, p.las), undefined, part(watch, 0, 0.15));
  try {
    const made = surfaceOfCloud(cloud, p, part(watch, 0.15, 0.5));
    const { definition, ...system } = parseSystem(p.crs);
    const { grid, tin } = made;
    tick(watch, 0.5, 'Finding the highest points');
    const all = indicesOfClass(cloud.points, undefined);
    const highest = gridHighest(cloud.set.x, cloud.set.y, cloud.set.z, all, cloud.set.origin, p.cellM, grid);
    const above = gridDifference(highest, grid);
    const thin = thinTin(tin.x, tin.y, tin.z, p.tinSpacingM, p.maxGapM, part(watch, 0.55, 0.8));
    tick(watch, 0.85, 'Writing products');
    const xml = (withSourcePoints: boolean) => (path: string) =>
      writeLandXml(path, thin.tin, {
        name: p.name,
        originE: cloud.set.origin[0],
        originN: cloud.set.origin[1],
        system: definition,
        date: new Date(),
        withSourcePoints,
      });
    const exports = {
      geotiff: await shelf.file((path) => writeGeoTiff(path, grid, definition), 'geotiff'),
      asciiGrid: await shelf.file((path) => writeAsciiGrid(path, grid), 'ascii-grid'),
      highestTiff: await shelf.file((path) => writeGeoTiff(path, highest, definition), 'geotiff'),
      aboveTiff: await shelf.file((path) => writeGeoTiff(path, above, definition), 'geotiff'),
      landXml: await shelf.file(xml(false), 'landxml'),
      landXmlPoints: await shelf.file(xml(true), 'landxml'),
      contoursGeoJson: await shelf.file(
        (path) => writeContoursGeoJson(path, made.contours, { definition, ...system }),
        'geojson',
      ),
      contoursDxf: await shelf.file((path) => writeContoursDxf(path, made.contours, definition), 'dxf'),
    };
    tick(watch, 0.95, 'Drawing pictures');
    const picture = await shelf.bytes(await shadePicture(grid), 'png');
    const pictures = {
      highest: await shelf.bytes(await shadePicture(highest), 'png'),
      above: await shelf.bytes(await abovePicture(above), 'png'),
    };
    return {
      content: {
        figures: {
          ...surfaceFigures(made),
          cell_m: p.cellM,
          max_gap_m: p.maxGapM,
          contour_interval_m: p.contoursM,
          tin_spacing_m: p.tinSpacingM,
        },
        exports,
        picture,
        pictures,
        grid: await shelf.bytes(new Uint8Array(grid.heightM.buffer), 'grid'),
        highestGrid: await shelf.bytes(new Uint8Array(highest.heightM.buffer), 'grid'),
        tin: await storeTin(shelf, thin, cloud.set.origin),
        crs: p.crs,
        layout: { cellM: grid.cellM, westM: grid.westM, northM: grid.northM, columns: grid.columns, rows: grid.rows },
      },
      contentHash: exports.geotiff.sha256,
      objects: shelf.objects,
      notices: [],
      log: [`${grid.columns} × ${grid.rows} cells, ${made.contours.length} contours.`],
    };
  } finally {
    await cloud.file.close();
  }
}

/** The TIN as the screen takes it: float32 x, y, z of each vertex about `origin`, then uint32 corners. */
async function storeTin(shelf: Shelf, thin: ThinTin, origin: readonly number[]) {
  const { tin } = thin;
  const n = tin.x.length;
  const base = tin.z.length ? Math.floor(tin.z[0]) : 0;
  let kept = 0;
  for (const h of tin.hole) if (!h) kept++;
  const out = new ArrayBuffer(12 * n + 12 * kept);
  const vertices = new Float32Array(out, 0, 3 * n);
  const corners = new Uint32Array(out, 12 * n);
  for (let i = 0; i < n; i++) {
    vertices[3 * i] = tin.x[i];
    vertices[3 * i + 1] = tin.y[i];
    vertices[3 * i + 2] = tin.z[i] - base;
  }
  for (let t = 0, o = 0; t < tin.hole.length; t++) {
    if (tin.hole[t]) continue;
    for (let k = 0; k < 3; k++) corners[o++] = tin.triangles[3 * t + k];
  }
  return {
    object: await shelf.bytes(new Uint8Array(out), 'tin'),
    vertices: n,
    triangles: kept,
    origin: [origin[0], origin[1], base],
    lossRmsM: thin.lossRmsM,
    lossMaxM: thin.lossMaxM,
  };
}

function extremes(grid: HeightGrid): [number, number] {
  let low = Infinity;
  let high = -Infinity;
  for (const h of grid.heightM) {
    if (h < low) low = h;
    if (h > high) high = h;
  }
  return [low, high];
}

function paint(grid: HeightGrid, colour: (h: number, i: number) => readonly number[]): Promise<Buffer> {
  const out = new Uint8Array(4 * grid.heightM.length);
  for (let i = 0; i < grid.heightM.length; i++) {
    const h = grid.heightM[i];
    if (Number.isNaN(h)) continue;
    const c = colour(h, i);
    for (let k = 0; k < 3; k++) out[4 * i + k] = Math.min(255, c[k]);
    out[4 * i + 3] = 255;
  }
  return sharp(out, { raw: { width: grid.columns, height: grid.rows, channels: 4 } })
    .png()
    .toBuffer();
}

/** Shaded relief tinted by height; empty cells are transparent. */
export function shadePicture(grid: HeightGrid): Promise<Buffer> {
  const shade = hillShade(grid);
  const [low, high] = extremes(grid);
  const from = [222, 229, 214];
  const to = [176, 150, 118];
  return paint(grid, (h, i) => {
    const u = (h - low) / Math.max(1e-6, high - low);
    const light = 0.35 + (0.75 * shade[i]) / 255;
    return [0, 1, 2].map((k) => (from[k] + (to[k] - from[k]) * u) * light);
  });
}

/** Height above ground: pale at the ground, dark green from 10 m. */
function abovePicture(grid: HeightGrid): Promise<Buffer> {
  return paint(grid, (h) => {
    const u = Math.sqrt(Math.min(1, Math.max(0, h / 10)));
    return [238 - 213 * u, 240 - 155 * u, 228 - 158 * u];
  });
}
