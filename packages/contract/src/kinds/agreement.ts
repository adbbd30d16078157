import { kind, type GridLayout } from '../declare/kind';

/** Two strips where both lie, the second less the first along the normal of the surface, metres. */
export interface PairFigures {
  first: number;
  second: number;
  cells: number;
  meanM: number;
  sdM: number | null;
  rmsM: number;
  medianM: number;
  p95M: number;
  /** What the stated precision of the points lets expect; null when nothing is stated. */
  expectedM: number | null;
}

export interface Content {
  pairs: PairFigures[];
  cells: number;
  rough: number;
  apart: number;
  rmsM: number | null;
  /** How many differences. */
  differences: number;
  settings: { cellM: number; fewest: number; roughestM: number; apartM: number; groundOnly: boolean };
  toleranceM: number;
  /** End of the scale of the map. */
  limitM: number;
  crs: string;
  picture: string | null;
  layout: GridLayout;
  /** Object with the differences, thinned for a histogram. */
  values: string;
}

export default kind<Content>({
  name: 'Strip agreement',
  counts: 'pairs',
  card: ({ pairs, rmsM }, small) =>
    rmsM === null
      ? 'no strips lie over each other'
      : `RMS ${(rmsM * small.factor).toFixed(small.digits + 1)} ${small.symbol}, ${pairs.length} ${pairs.length === 1 ? 'pair' : 'pairs'} of strips`,
  judgedBy: (c) => c.toleranceM,
  exports: { pairs: { label: 'Pairs of strips, CSV', extension: 'csv', type: 'text/csv', by: 'agreement' } },
  onMap: (c) => (c.picture ? [{ draw: 'picture', object: c.picture, layout: c.layout, of: 'differences' }] : []),
});
