/** What a check of plan holds, as the server makes it. */
export interface PlanMark {
  name: string;
  role: 'control' | 'check' | 'unused';
  given: [number, number, number];
  found: [number, number, number | null] | null;
  how: 'fit' | 'pick' | null;
  dE: number | null;
  dN: number | null;
  dH: number | null;
  sdE: number | null;
  sdN: number | null;
  expectedSdM: number | null;
  testT: number | null;
  flagged: boolean;
  used: boolean;
  points: number;
  note: string;
  picture: string | null;
  leftOut: string | null;
}

export interface PlanDistance {
  from: string;
  to: string;
  kind: 'distance' | 'height';
  measuredM: number;
  foundM: number | null;
  differenceM: number | null;
  expectedSdM: number | null;
  testT: number | null;
  agrees: boolean | null;
  note: string;
}

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
