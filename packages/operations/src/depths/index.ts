import { DEPTH_FILES, type DepthFigures, type DepthFile } from '@longheron/contract/kinds/depths';
import { type StoredExport } from '@longheron/contract/kinds/surface';
import declaration from '@longheron/contract/operations/depths';
import { type ReferenceSystem } from '@longheron/core/frames';
import { median } from '@longheron/core/numeric';
import { part, Problem, tick } from '@longheron/core/shared';
import { fillHoles, gridSoundings, soundingSpacingM, type DepthGrid } from '@longheron/core/sonar';
import { contoursOfGrid, summariseGrid, type Contour, type HeightGrid } from '@longheron/core/surface';
import { writeAsciiGrid } from '@longheron/formats/asciigrid';
import { parseSystem } from '@longheron/formats/crs';
import { writeContoursDxf } from '@longheron/formats/dxf';
import { writeContoursGeoJson } from '@longheron/formats/geojson';
import { writeGeoTiff } from '@longheron/formats/geotiff';
import { computation } from '../computation/types';
import { ReportBuilder } from '../shared/report';
import { finite } from '../shared/words';
import { depthChapter } from './chapter';
import { countPicture, depthPicture, filledPicture, spreadPicture } from './pictures';
import { soundingsOf } from './soundings';

export { depthPicture } from './pictures';

const DAY_S = 86_400;
/** Spacing is known to about a tenth: smaller cells are named. */
const CLEARLY = 0.9;

/** What files are written of. */
interface Products {
  made: DepthGrid;
  contours: Contour[];
  system: ReferenceSystem;
  down: boolean;
  latestS: number;
}

const like = (p: Products, values: ArrayLike<number>): HeightGrid => ({
  ...p.made.grid,
  heightM: Float32Array.from(values),
});
/** Values that are no heights: whole numbers, metres, days. */
const plain = (path: string, p: Products, values: ArrayLike<number>) =>
  writeGeoTiff(path, like(p, values), { ...p.system.definition, verticalMetresPerUnit: 1 });

const WRITERS: { [file in DepthFile]: [kind: string, write: (path: string, p: Products) => Promise<unknown>] } = {
  geotiff: ['geotiff', (path, p) => writeGeoTiff(path, p.made.grid, p.system.definition, p.down)],
  asciiGrid: ['ascii-grid', (path, p) => writeAsciiGrid(path, p.made.grid, p.down)],
  countTiff: ['geotiff', (path, p) => plain(path, p, p.made.count)],
  spreadTiff: ['geotiff', (path, p) => plain(path, p, p.made.spreadM)],
  sdTiff: ['geotiff', (path, p) => plain(path, p, p.made.sdM)],
  ageTiff: [
    'geotiff',
    (path, p) =>
      plain(
        path,
        p,
        p.made.latestS.map((t) => (p.latestS - t) / DAY_S),
      ),
  ],
  filledTiff: ['geotiff', (path, p) => plain(path, p, p.made.filled)],
  contoursGeoJson: ['geojson', (path, p) => writeContoursGeoJson(path, p.contours, p.system, false)],
  contoursDxf: ['dxf', (path, p) => writeContoursDxf(path, p.contours, p.system.definition)],
};

/** A grid of soundings. */
export default computation(
  declaration,
  async ({ cloud }, settings, context, out, watch) => {
    const { cellM, method, fillM, contoursM, positiveDown } = settings;
    const builder = new ReportBuilder('depths', {
      cell_m: cellM,
      method,
      fill_m: fillM,
      contours_m: contoursM || null,
    });
    const crs = context.crs ?? cloud.crs;
    const { soundings, left, system: named } = await soundingsOf(cloud, part(watch, 0, 0.4));
    const system = named ?? (crs ? parseSystem(crs) : undefined);
    if (!system)
      throw new Problem('The soundings name no coordinate system, which a grid needs.', {
        code: 'depths-crs',
        file: cloud.name,
        remedy: 'Say which it is in, in Clean under Clouds.',
        command: 'Give it with --crs EPSG:25832+5773.',
      });
    const spacing = soundingSpacingM(soundings);
    const made = gridSoundings(soundings, cellM, method, part(watch, 0.4, 0.7));
    const filled = fillHoles(made, fillM);
    tick(watch, 0.75, 'Tracing contours');
    const contours = contoursM ? contoursOfGrid(made.grid, contoursM, part(watch, 0.75, 0.85)) : [];
    const figures = figuresOf(made, { soundings: soundings.eastingM.length, left, spacing, filled, method, fillM });
    figures.contours = contours.length;
    figures.contour_interval_m = contoursM;
    for (const n of noticesOf(figures, cloud.relativeTo)) builder.notice(n);
    if (positiveDown)
      builder.notice({
        code: 'depths-down',
        severity: 'info',
        text: 'Rasters hold depths, positive down; contours hold heights, positive up.',
      });
    const down = positiveDown || system.definition.depths === true;
    const p: Products = { made, contours, system, down, latestS: figures.to_gps };
    tick(watch, 0.85, 'Writing products');
    const exports: { [file in DepthFile]?: StoredExport } = {};
    for (const file of DEPTH_FILES) {
      if (!out.wanted(file)) continue;
      const [kind, write] = WRITERS[file];
      exports[file] = await out.file(file, kind, (path) => write(path, p));
    }
    const { grid } = made;
    const { keeps, store } = out;
    const png = async (picture: Promise<Buffer>) => store.bytes(await picture, 'png');
    return {
      content: {
        figures,
        exports,
        picture: keeps ? await png(depthPicture(grid)) : '',
        ...(keeps
          ? {
              pictures: {
                count: await png(countPicture(made)),
                spread: await png(spreadPicture(made)),
                filled: await png(filledPicture(made)),
              },
            }
          : {}),
        grid: keeps ? await store.bytes(new Uint8Array(grid.heightM.buffer), 'grid') : '',
        crs: system.label,
        ...(cloud.relativeTo ? { relativeTo: cloud.relativeTo } : {}),
        layout: { cellM, westM: grid.westM, northM: grid.northM, columns: grid.columns, rows: grid.rows },
      },
      hash: exports.geotiff?.sha256 ?? '',
      report: builder.finish(system.label, figures),
      log: [`${grid.columns} × ${grid.rows} cells of ${figures.soundings} soundings.`],
      lines: [
        `${figures.soundings} soundings about ${spacing.toFixed(2)} m apart; ${figures.cells} cells with soundings, ${figures.filled} filled, ${figures.empty_cells} empty; heights ${figures.height_min_m.toFixed(2)} to ${figures.height_max_m.toFixed(2)} m${cloud.relativeTo ? `, relative to ${cloud.relativeTo}` : ''}.`,
      ],
    };
  },
  { chapter: depthChapter },
);

function figuresOf(
  made: DepthGrid,
  of: {
    soundings: number;
    left: number;
    spacing: number;
    filled: number;
    method: DepthFigures['method'];
    fillM: number;
  },
): DepthFigures {
  const { grid, count, spreadM, sdM, latestS } = made;
  const s = summariseGrid(grid);
  let [cells, from, to] = [0, Infinity, -Infinity];
  for (let c = 0; c < count.length; c++) {
    if (!count[c]) continue;
    cells++;
    if (latestS[c] < from) from = latestS[c];
    if (latestS[c] > to) to = latestS[c];
  }
  const middle = (v: Float32Array) => {
    const known = v.filter(Number.isFinite);
    return known.length ? finite(median(known)) : null;
  };
  return {
    soundings: of.soundings,
    left_out: of.left,
    method: of.method,
    cell_m: grid.cellM,
    columns: grid.columns,
    rows: grid.rows,
    cells,
    filled: of.filled,
    fill_m: of.fillM,
    empty_cells: s.emptyCells,
    spacing_m: of.spacing,
    soundings_a_cell: of.soundings / Math.max(1, cells),
    height_min_m: s.minM,
    height_max_m: s.maxM,
    spread_m: middle(spreadM),
    sd_m: middle(sdM),
    from_gps: from,
    to_gps: to,
    contours: 0,
    contour_interval_m: 0,
  };
}

function noticesOf(f: DepthFigures, relativeTo: string | undefined) {
  return [
    ...(f.cell_m < CLEARLY * f.spacing_m
      ? [
          {
            code: 'depths-cell',
            severity: 'warning' as const,
            text: `Cells of ${f.cell_m} m are smaller than the soundings lie apart (${f.spacing_m.toFixed(2)} m).`,
            effect: 'Many cells hold one sounding or none: the grid shows noise and holes.',
            remedy: `Choose a cell of ${(2 * f.spacing_m).toPrecision(2)} m or more.`,
          },
        ]
      : []),
    ...(relativeTo
      ? [
          {
            code: 'relative-heights',
            severity: 'warning' as const,
            text: `Heights are relative: they count from ${relativeTo}.`,
            effect: 'The grid must not be compared with heights of the project.',
          },
        ]
      : []),
  ];
}
