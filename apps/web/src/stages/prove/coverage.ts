import { type COVERAGE_DEFAULTS } from '@longheron/core/accuracy';

/** A measured coverage, as the server makes it. */
export interface CoverageContent {
  figures: Record<
    'areaM2' | 'coveredM2' | 'median' | 'p5' | 'belowShare' | 'voidM2' | 'voidCount' | 'points' | 'listed',
    number | null
  > & {
    steep: Record<'areaM2' | 'median' | 'belowShare', number | null>;
    precision: Record<'median' | 'p95' | 'statedM2', number | null>;
    spacing: Record<'points' | 'medianM' | 'p95M', number | null>;
  };
  /** Largest first. */
  voids: Array<{ areaM2: number; widthM: number; eastingM: number; northingM: number; atEdge: boolean }>;
  settings: typeof COVERAGE_DEFAULTS & { groundOnly: boolean; area?: string };
  ordered: boolean;
  toleranceM: number;
  /** End of the scale of precision. */
  sdMostM: number;
  pictures: { density: string; precision: string | null };
  layout: { cellM: number; westM: number; northM: number; columns: number; rows: number };
}

/** A share as percent; small ones with a decimal. */
export const percent = (share: number | null) =>
  share === null ? 'none' : `${(100 * share).toFixed(share < 0.1 || (share > 0.99 && share < 0.9995) ? 1 : 0)} %`;
