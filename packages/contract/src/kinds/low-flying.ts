import { kind } from '../declare/kind';

/** Figures of a surface for low flying, as its command reports them. */
export interface LowFlyingFigures {
  cell_m: number;
  margin_m: number;
  fill_m: number;
  heights: string;
  cells: number;
  filled: number;
  holes: number;
  height_min_m: number;
  height_max_m: number;
  west_deg: number;
  north_deg: number;
  cell_lon_deg: number;
  cell_lat_deg: number;
  columns: number;
  rows: number;
}

export interface Content {
  figures: LowFlyingFigures;
  /** Object with the GeoTIFF. */
  object: string;
  bytes: number;
}

export default kind<Content>({
  name: 'Surface for low flying',
  counts: 'cells',
  card: ({ figures: f }, small) =>
    `cells of ${f.cell_m} m, margin ${(f.margin_m * small.factor).toFixed(0)} ${small.symbol}, ${f.filled} filled`,
  exports: {
    geotiff: {
      label: 'Surface for low flying, GeoTIFF in longitude and latitude',
      extension: 'tif',
      type: 'image/tiff',
      object: (c) => c.object,
    },
  },
});
