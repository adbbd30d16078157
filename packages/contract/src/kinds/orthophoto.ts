import { type RasterDto } from '../api';
import { kind } from '../declare/kind';

/** Figures of an orthophoto, as its command reports them. */
export interface OrthophotoFigures {
  cell_m: number;
  columns: number;
  rows: number;
  cells: number;
  /** Cells over the surface that no photograph shows; cells without a height are counted apart. */
  empty: number;
  no_height: number;
  /** Cells that were hidden from the photograph beside them, and taken from another. */
  patched: number;
  pictures: Array<{ image: string; cells: number; red: number; green: number; blue: number }>;
  surface: 'ground' | 'highest';
}

export interface Content {
  figures: OrthophotoFigures;
  /** Object with the GeoTIFF. */
  object: string;
  bytes: number;
  /** How maps show it; the same as of a picture that was brought in. */
  raster: RasterDto | null;
  crs: string;
}

export default kind<Content>({
  name: 'Orthophoto',
  counts: 'cells',
  card: ({ figures: f }) =>
    `cells of ${f.cell_m} m from ${f.pictures.filter((p) => p.cells > 0).length} photographs, ${f.empty} empty`,
  exports: {
    geotiff: { label: 'Orthophoto, GeoTIFF', extension: 'tif', type: 'image/tiff', object: (c) => c.object },
  },
});
