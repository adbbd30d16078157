import { type PlanDistance, type PlanMark, type PlanTrend } from '@longheron/core/accuracy';

/** What a check of plan holds, as the server makes it. */
export interface PlanFigures {
  marks: PlanMark[];
  statistics: {
    count: number;
    meanE: number | null;
    meanN: number | null;
    sdE: number | null;
    sdN: number | null;
    rmseE: number | null;
    rmseN: number | null;
    rmseR: number | null;
    maxM: number | null;
    biasTE: number | null;
    biasTN: number | null;
    biasSignificant: boolean;
    p95M: number | null;
    p95Note: string;
  };
  statements: Array<{ standard: string; classCm: number; rmseM: number; p95M: number | null; caveat: string | null }>;
  /** Absent in checks of older make. */
  trend?: PlanTrend | null;
  cloudSdM: number;
  toleranceM: number;
  within: boolean | null;
  distances: PlanDistance[];
}

export interface PlanContent {
  figures: PlanFigures;
  sights: Array<{ mark: { name: string }; fit?: { dE: number; dN: number } }>;
  picks: Array<{ name: string; eastingM: number; northingM: number; sdM: number }>;
  settings: { target: 'two-tone' | 'sphere' | 'corner'; edgeM: number; radiusM: number; searchM: number };
  patch: { edgeM: number; cellM: number };
}
