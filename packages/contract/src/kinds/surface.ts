import { kind, type GridLayout, type KindExport } from '../declare/kind';

export interface StoredExport {
  sha256: string;
  bytes: number;
}

export interface SurfaceFigures {
  points: number;
  triangles: number;
  cells: number;
  empty_cells: number;
  /** Cells over triangles with long edges, and beyond the outermost points, that were filled; older surfaces lack them. */
  bridged_cells?: number;
  cells_beyond_points?: number;
  height_min_m: number | null;
  height_max_m: number | null;
  contours: number;
}

export const SURFACE_FILES = [
  ...(['geotiff', 'asciiGrid', 'highestTiff', 'aboveTiff'] as const),
  ...(['landXml', 'landXmlPoints', 'contoursGeoJson', 'contoursDxf'] as const),
] as const;
export type SurfaceFile = (typeof SURFACE_FILES)[number];

export interface Content {
  figures: SurfaceFigures & {
    cell_m: number;
    max_gap_m: number;
    contour_interval_m: number;
    tin_spacing_m?: number;
  };
  exports: { [file in SurfaceFile]?: StoredExport };
  picture: string;
  pictures?: { highest: string; above: string };
  /** Objects with the heights, float32 row by row from the north. */
  grid: string;
  highestGrid?: string;
  tin?: {
    object: string;
    vertices: number;
    triangles: number;
    origin: number[];
    lossRmsM: number;
    lossMaxM: number;
  };
  /** By how much the TIN was allowed to miss the terrain, RMS in metres. */
  toleranceM?: number;
  crs: string;
  layout: GridLayout;
}

const file = (name: SurfaceFile, label: string, extension: string, type: string): KindExport<Content> => ({
  ...(name === 'geotiff' ? {} : { suffix: `_${name}` }),
  label,
  extension,
  type,
  object: (c: Content) => c.exports[name]?.sha256,
});

export default kind<Content>({
  name: 'Terrain model',
  counts: 'points',
  card: ({ figures: f }) => `${f.cell_m} m cells`,
  judgedBy: (c) => c.toleranceM,
  exports: {
    geotiff: file('geotiff', 'Terrain grid, GeoTIFF', 'tif', 'image/tiff'),
    asciiGrid: file('asciiGrid', 'Terrain grid, ASCII grid', 'asc', 'text/plain'),
    highestTiff: file('highestTiff', 'Surface grid (highest point), GeoTIFF', 'tif', 'image/tiff'),
    aboveTiff: file('aboveTiff', 'Height above ground, GeoTIFF', 'tif', 'image/tiff'),
    landXml: file('landXml', 'TIN, LandXML 1.2', 'xml', 'application/xml'),
    landXmlPoints: file('landXmlPoints', 'TIN with source points, LandXML 1.2', 'xml', 'application/xml'),
    contoursGeoJson: file('contoursGeoJson', 'Contours, GeoJSON', 'geojson', 'application/geo+json'),
    contoursDxf: file('contoursDxf', 'Contours, DXF', 'dxf', 'image/vnd.dxf'),
  },
  onMap: ({ picture, pictures, layout }) => [
    { draw: 'picture', object: picture, layout, of: 'terrain' },
    ...Object.entries(pictures ?? {}).map(([of, object]) => ({ draw: 'picture' as const, object, layout, of })),
  ],
});
