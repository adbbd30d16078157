import { kind } from '../declare/kind';

/** Differences of soundings from the other lines in their cells, metres; a line's sounding less the others. */
export interface DifferenceFigures {
  n: number;
  mean_m: number;
  sd_m: number;
  rms_m: number;
  p95_m: number;
}

/** How soundings agree between lines, and which orders of survey they keep, as the command reports it. */
export interface LineCheckFigures {
  soundings: number;
  cell_m: number;
  /** Cells that at least two lines share. */
  cells: number;
  /** Soundings that lie wild within their own line: they do not count. */
  wild: number;
  all: DifferenceFigures;
  by_angle: Array<DifferenceFigures & { from_deg: number; to_deg: number }>;
  by_line: Array<DifferenceFigures & { line: number }>;
  by_pair: Array<{ a: number; b: number; cells: number; mean_m: number; sd_m: number }>;
  /** Lines whose outer beams lie higher (positive) or lower than their inner ones, against the other lines. */
  bends: Array<{ line: number; outer_m: number; sd_m: number }>;
  /** IHO S-44 edition 6: soundings that keep each order by what they state. */
  orders: Array<{ order: string; soundings: number; vertical: number; horizontal: number; both: number }>;
  /** The strictest order that at least 95 % keep; null when none. */
  kept: string | null;
}

export interface Content {
  figures: LineCheckFigures;
}

export default kind<Content>({
  name: 'Comparison of lines',
  counts: 'soundings',
  card: ({ figures: f }) => `${(100 * f.all.sd_m).toFixed(1)} cm, ${f.kept ?? 'no order kept'}`,
  exports: { pairs: { label: 'Pairs of lines, CSV', extension: 'csv', type: 'text/csv', by: 'line-check' } },
});
