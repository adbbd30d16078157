import { kind, type GridLayout } from '../declare/kind';

export interface SidescanLineFigures {
  file: string;
  pings: number;
  /** Share of pings whose first return is sure. */
  tracked_share: number;
  edited: number;
  /** Lowest and highest altitude, metres. */
  altitude_m: [number, number];
  outside: number;
  /** Doubtful stretches, worst first: pings. */
  doubtful: Array<{ from: number; to: number; confidence: number }>;
}

/** Figures of a side-scan mosaic, as its command reports them. */
export interface MosaicFigures {
  channel: string;
  cell_m: number;
  columns: number;
  rows: number;
  cells: number;
  empty_cells: number;
  pings: number;
  tracked_share: number;
  overlap: 'order' | 'mean' | 'power' | 'strongest' | 'best';
  /** Whether ranges were corrected on a depth grid, or on a flat bed. */
  bed: 'grid' | 'flat';
  /** Spacing of pings along and of samples across, metres. */
  ping_spacing_m: number;
  sample_spacing_m: number;
  /** From the bottom to the top of the stack. */
  order: string[];
  lines: SidescanLineFigures[];
}

export interface Content {
  figures: MosaicFigures;
  /** Object with the GeoTIFF, with the tracks as CSV, and with a picture. */
  object: string;
  bytes: number;
  tracks: string;
  picture: string;
  crs: string;
  layout: GridLayout;
}

export default kind<Content>({
  name: 'Side-scan mosaic',
  counts: 'pings',
  card: ({ figures: f }) => `${f.channel}, ${f.cell_m} m cells, ${(100 * f.tracked_share).toFixed(0)} % tracked`,
  exports: {
    geotiff: { label: 'Mosaic, GeoTIFF', extension: 'tif', type: 'image/tiff', object: (c) => c.object },
    tracks: {
      label: 'First returns from the bed, CSV',
      extension: 'csv',
      type: 'text/csv',
      object: (c) => c.tracks,
      suffix: '_tracks',
    },
  },
  onMap: ({ picture, layout }) => [{ draw: 'picture', object: picture, layout, of: 'mosaic' }],
});
