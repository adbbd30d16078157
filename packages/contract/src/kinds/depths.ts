import { kind, type GridLayout, type KindExport } from '../declare/kind';
import { type StoredExport } from './surface';

/** Figures of a grid of soundings, as its command reports them. */
export interface DepthFigures {
  soundings: number;
  /** Rejected soundings and noise, which were left out. */
  left_out: number;
  method: 'shoalest' | 'median' | 'mean' | 'weighted';
  cell_m: number;
  columns: number;
  rows: number;
  /** Cells with soundings, those filled over holes, and those of the rectangle that stay empty. */
  cells: number;
  filled: number;
  fill_m: number;
  empty_cells: number;
  /** Median distance of soundings where they lie. */
  spacing_m: number;
  soundings_a_cell: number;
  height_min_m: number;
  height_max_m: number;
  /** Median over cells of the spread of their soundings, and of what their heights state, 1 SD. */
  spread_m: number | null;
  sd_m: number | null;
  from_gps: number;
  to_gps: number;
  contours: number;
  contour_interval_m: number;
}

export const DEPTH_FILES = [
  ...(['geotiff', 'asciiGrid', 'countTiff', 'spreadTiff', 'sdTiff', 'ageTiff', 'filledTiff'] as const),
  ...(['contoursGeoJson', 'contoursDxf'] as const),
] as const;
export type DepthFile = (typeof DEPTH_FILES)[number];

export interface Content {
  figures: DepthFigures;
  exports: { [file in DepthFile]?: StoredExport };
  picture: string;
  pictures?: { count: string; spread: string; filled: string };
  /** Object with the heights, float32 row by row from the north. */
  grid: string;
  crs: string;
  /** What relative heights count from. */
  relativeTo?: string;
  layout: GridLayout;
}

const file = (name: DepthFile, label: string, extension: string, type: string): KindExport<Content> => ({
  ...(name === 'geotiff' ? {} : { suffix: `_${name}` }),
  label,
  extension,
  type,
  object: (c: Content) => c.exports[name]?.sha256,
});
const TIFF = 'image/tiff';

export default kind<Content>({
  name: 'Depth grid',
  counts: 'soundings',
  card: ({ figures: f, relativeTo }) => `${f.cell_m} m cells, ${f.method}${relativeTo ? ', relative' : ''}`,
  exports: {
    geotiff: file('geotiff', 'Depth grid, GeoTIFF', 'tif', TIFF),
    asciiGrid: file('asciiGrid', 'Depth grid, ASCII grid', 'asc', 'text/plain'),
    countTiff: file('countTiff', 'Soundings a cell, GeoTIFF', 'tif', TIFF),
    spreadTiff: file('spreadTiff', 'Spread of soundings, GeoTIFF', 'tif', TIFF),
    sdTiff: file('sdTiff', 'Uncertainty of heights (1 SD), GeoTIFF', 'tif', TIFF),
    ageTiff: file('ageTiff', 'Age of cells in days, GeoTIFF', 'tif', TIFF),
    filledTiff: file('filledTiff', 'Filled cells, GeoTIFF', 'tif', TIFF),
    contoursGeoJson: file('contoursGeoJson', 'Contours, GeoJSON', 'geojson', 'application/geo+json'),
    contoursDxf: file('contoursDxf', 'Contours, DXF', 'dxf', 'image/vnd.dxf'),
  },
  onMap: ({ picture, pictures, layout }) => [
    { draw: 'picture', object: picture, layout, of: 'depths' },
    ...Object.entries(pictures ?? {}).map(([of, object]) => ({ draw: 'picture' as const, object, layout, of })),
  ],
});
