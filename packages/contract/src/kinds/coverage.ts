import { kind, type GridLayout } from '../declare/kind';

export interface Void {
  areaM2: number;
  /** Diameter of the largest circle in it. */
  widthM: number;
  eastingM: number;
  northingM: number;
  atEdge: boolean;
}

type Maybe<K extends string> = Record<K, number | null>;

export interface CoverageFigures extends Maybe<
  'areaM2' | 'coveredM2' | 'median' | 'p5' | 'belowShare' | 'voidM2' | 'voidCount' | 'points' | 'listed'
> {
  steep: Maybe<'areaM2' | 'median' | 'belowShare'>;
  precision: Maybe<'median' | 'p95' | 'statedM2'>;
  spacing: Maybe<'points' | 'medianM' | 'p95M'>;
}

export interface Content {
  figures: CoverageFigures;
  /** Largest first. */
  voids: Void[];
  settings: {
    cellM: number;
    targetPerM2: number;
    fewest: number;
    leastVoidM2: number;
    closeM: number;
    groundOnly: boolean;
    area?: string;
  };
  /** Whether an area was ordered; else gaps were closed. */
  ordered: boolean;
  crs: string;
  toleranceM: number;
  /** End of the scale of precision. */
  sdMostM: number;
  pictures: { density: string; precision: string | null };
  layout: GridLayout;
}

/** A share as percent; small ones with a decimal. */
export const percent = (share: number | null) =>
  share === null ? 'none' : `${(100 * share).toFixed(share < 0.1 || (share > 0.99 && share < 0.9995) ? 1 : 0)} %`;

export default kind<Content>({
  name: 'Coverage',
  counts: 'voids',
  card: ({ figures: f }) => `${percent(f.areaM2 ? (f.coveredM2 ?? 0) / f.areaM2 : 0)} covered, ${f.listed} voids`,
  judgedBy: (c) => c.toleranceM,
  exports: { voids: { label: 'Voids, CSV', extension: 'csv', type: 'text/csv', by: 'coverage' } },
  onMap: ({ pictures: p, layout }) => [
    { draw: 'picture', object: p.density, layout, of: 'density' },
    ...(p.precision ? [{ draw: 'picture' as const, object: p.precision, layout, of: 'precision' }] : []),
  ],
});
