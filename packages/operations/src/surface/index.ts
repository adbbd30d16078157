import { type Contents } from '@longheron/contract/kinds';
import { SURFACE_FILES, type StoredExport, type SurfaceFile } from '@longheron/contract/kinds/surface';
import declaration from '@longheron/contract/operations/surface';
import { type ReferenceSystem } from '@longheron/core/frames';
import { part, Problem, tick, type Watch } from '@longheron/core/shared';
import { gridDifference, gridHighest, thinTin, type HeightGrid, type ThinTin } from '@longheron/core/surface';
import { writeAsciiGrid } from '@longheron/formats/asciigrid';
import { parseSystem } from '@longheron/formats/crs';
import { writeContoursDxf } from '@longheron/formats/dxf';
import { writeContoursGeoJson } from '@longheron/formats/geojson';
import { writeGeoTiff } from '@longheron/formats/geotiff';
import { writeLandXml } from '@longheron/formats/landxml';
import { computation, type Context, type Output } from '../computation/types';
import { indicesOfClass, type LoadedCloud } from '../shared/cloud';
import { ReportBuilder } from '../shared/report';
import { abovePicture, shadePicture } from './pictures';
import { surfaceFigures, surfaceOfCloud, type Surface } from './surface';

export { surfaceFigures, surfaceOfCloud, type Surface } from './surface';
export { shadePicture } from './pictures';

/** What files are written of, each made when something asks for it. */
interface Products {
  made: Surface;
  cloud: LoadedCloud;
  highest?: HeightGrid;
  above?: HeightGrid;
  thin?: ThinTin;
  system: () => ReferenceSystem;
  /** Whether the system asks for depths: rasters hold them, positive down. */
  depths: boolean;
  lonLat: boolean;
  name: string;
}

const WRITERS: { [file in SurfaceFile]: [kind: string, write: (path: string, p: Products) => Promise<unknown>] } = {
  geotiff: ['geotiff', (path, p) => writeGeoTiff(path, p.made.grid, p.system().definition, p.depths)],
  asciiGrid: ['ascii-grid', (path, p) => writeAsciiGrid(path, p.made.grid, p.depths)],
  highestTiff: ['geotiff', (path, p) => writeGeoTiff(path, p.highest!, p.system().definition, p.depths)],
  aboveTiff: ['geotiff', (path, p) => writeGeoTiff(path, p.above!, p.system().definition)],
  landXml: ['landxml', (path, p) => writeXml(path, p, false)],
  landXmlPoints: ['landxml', (path, p) => writeXml(path, p, true)],
  contoursGeoJson: ['geojson', (path, p) => writeContoursGeoJson(path, p.made.contours, p.system(), p.lonLat)],
  contoursDxf: ['dxf', (path, p) => writeContoursDxf(path, p.made.contours, p.system().definition)],
};

function writeXml(path: string, { thin, cloud, system, name }: Products, withSourcePoints: boolean): Promise<unknown> {
  const [originE, originN] = cloud.set.origin;
  const about = { name, originE, originN, system: system().definition, date: new Date(), withSourcePoints };
  return writeLandXml(path, thin!.tin, about);
}

/** Terrain grid, highest surface, height above ground, TIN, contours, and all their files. */
export default computation(declaration, async ({ cloud }, settings, context, out, watch) => {
  const { cellM, maxGapM, contoursM, tinSpacingM, class: cls, lonLat } = settings;
  const builder = new ReportBuilder('surface', {
    cell_m: cellM,
    class: cls,
    max_gap_m: maxGapM,
    contours_m: contoursM || null,
  });
  const loaded = await cloud.load(part(watch, 0, 0.15));
  try {
    const made = surfaceOfCloud(loaded, settings, part(watch, 0.15, 0.5));
    const counted = (context.crs ? parseSystem(context.crs) : loaded.system)?.definition;
    const p: Products = {
      made,
      depths: counted?.depths === true,
      cloud: loaded,
      system: () => systemOf(context, loaded),
      lonLat,
      name: context.projectName,
    };
    await derive(p, out, { cellM, maxGapM, tinSpacingM }, watch);
    tick(watch, 0.85, 'Writing products');
    const exports: { [file in SurfaceFile]?: StoredExport } = {};
    for (const file of SURFACE_FILES) {
      if (!out.wanted(file)) continue;
      const [kind, write] = WRITERS[file];
      exports[file] = await out.file(file, kind, (path) => write(path, p));
    }
    tick(watch, 0.95, 'Drawing pictures');
    const lossM = p.thin && context.toleranceM !== undefined ? p.thin.lossRmsM : 0;
    if (lossM > (context.toleranceM ?? Infinity))
      builder.notice({
        code: 'tin-tolerance',
        severity: 'warning',
        text: `The thinned TIN misses the terrain by ${(1000 * lossM).toFixed(1)} mm RMS, more than the tolerance of ${(1000 * context.toleranceM!).toFixed(1)} mm.`,
        remedy: 'Choose a smaller TIN point spacing.',
      });
    if (p.depths)
      builder.notice({
        code: 'surface-depths',
        severity: 'info',
        text: `Rasters hold depths below ${counted!.verticalName}, positive down; TIN and contours hold heights, positive up.`,
      });
    const { grid } = made;
    const figures = surfaceFigures(made);
    const crs = context.crs ?? loaded.system?.label ?? '';
    return {
      content: {
        figures: {
          ...figures,
          cell_m: cellM,
          max_gap_m: maxGapM,
          contour_interval_m: contoursM,
          tin_spacing_m: tinSpacingM,
        },
        exports,
        ...(await drawn(p, out)),
        ...(context.toleranceM === undefined ? {} : { toleranceM: context.toleranceM }),
        crs,
        layout: { cellM: grid.cellM, westM: grid.westM, northM: grid.northM, columns: grid.columns, rows: grid.rows },
      },
      hash: exports.geotiff?.sha256 ?? '',
      report: builder.finish(loaded.system?.label ?? context.crs ?? null, { ...figures }),
      log: [`${grid.columns} × ${grid.rows} cells, ${made.contours.length} contours.`],
      lines: [
        `${figures.points} points, ${figures.triangles} triangles; ${figures.cells} cells, ${figures.empty_cells} empty; heights ${Number(figures.height_min_m).toFixed(2)} to ${Number(figures.height_max_m).toFixed(2)} m; ${figures.contours} contours.`,
      ],
    };
  } finally {
    await loaded.file.close();
  }
});

function systemOf({ crs }: Context, { system, file }: LoadedCloud): ReferenceSystem {
  if (crs) return parseSystem(crs);
  if (system) return system;
  throw new Problem('The cloud names no coordinate system, which this output needs.', {
    code: 'surface-crs',
    file: file.source.name,
    remedy: 'Say which it is in, in Clean under Clouds.',
    command: 'Give it with --crs EPSG:25832+5773.',
  });
}

/** Grids and TIN beside the terrain, as far as a file or the screen wants them. */
async function derive(
  p: Products,
  out: Output,
  { cellM, maxGapM, tinSpacingM }: { cellM: number; maxGapM: number; tinSpacingM: number },
  watch: Watch,
): Promise<void> {
  const { set, points } = p.cloud;
  const { grid, tin } = p.made;
  if (out.wanted('highestTiff') || out.wanted('aboveTiff')) {
    tick(watch, 0.5, 'Finding the highest points');
    p.highest = gridHighest(set.x, set.y, set.z, indicesOfClass(points, undefined), set.origin, cellM, grid);
    p.above = gridDifference(p.highest, grid);
  }
  if (out.wanted('landXml') || out.wanted('landXmlPoints'))
    p.thin = thinTin(tin.x, tin.y, tin.z, tinSpacingM, maxGapM, part(watch, 0.55, 0.8));
}

/** Pictures, grids and TIN as the screen takes them; on the command line nothing looks at them. */
async function drawn(p: Products, { keeps, store }: Output): Promise<Pick<Contents['surface'], 'picture' | 'grid'>> {
  if (!keeps || !p.highest || !p.above || !p.thin) return { picture: '', grid: '' };
  const picture = await store.bytes(await shadePicture(p.made.grid), 'png');
  const pictures = {
    highest: await store.bytes(await shadePicture(p.highest), 'png'),
    above: await store.bytes(await abovePicture(p.above), 'png'),
  };
  const bytesOf = (g: HeightGrid) => store.bytes(new Uint8Array(g.heightM.buffer), 'grid');
  const kept: Pick<Contents['surface'], 'picture' | 'pictures' | 'grid' | 'highestGrid' | 'tin'> = {
    picture,
    pictures,
    grid: await bytesOf(p.made.grid),
    highestGrid: await bytesOf(p.highest),
    tin: await storeTin(store, p.thin, p.cloud.set.origin),
  };
  return kept;
}

/** The TIN as the screen takes it: float32 x, y, z of each vertex about `origin`, then uint32 corners. */
async function storeTin(store: Output['store'], thin: ThinTin, origin: readonly number[]) {
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
    object: await store.bytes(new Uint8Array(out), 'tin'),
    vertices: n,
    triangles: kept,
    origin: [origin[0], origin[1], base],
    lossRmsM: thin.lossRmsM,
    lossMaxM: thin.lossMaxM,
  };
}
