import { type Mark, type PlanDistance, type PlanMark, type PlanTrend } from '@longheron/core/accuracy';
import { kind } from '../declare/kind';

export type TargetKind = 'two-tone' | 'sphere' | 'corner';

/** What is kept of a mark's sight in the cloud: all that the figures need. */
export interface KeptSight {
  mark: Mark;
  /** Measured − reference, metres; absent when nothing was found. */
  fit?: { dE: number; dN: number; dH?: number; sdE: number; sdN: number; sdH?: number; note: string };
  reason?: string;
  points: number;
  /** The ground about the mark as a plane. */
  plane?: { heightM: number; slopeE: number; slopeN: number; sdM: number; points: number };
  /** Object of the picture. */
  picture?: string;
  /** Marks that helped to make the cloud cannot prove it. */
  usedFor?: string;
}

/** A place that a person pointed at, of a mark. */
export interface Pick {
  name: string;
  eastingM: number;
  northingM: number;
  /** 1 SD of pointing, metres. */
  sdM: number;
}

/** Something taped or levelled on site between two marks. */
export interface KeptMeasurement {
  from: string;
  to: string;
  kind: 'distance' | 'height';
  valueM: number;
  sdM: number;
  note: string;
}

type Maybe<K extends string> = Record<K, number | null>;

export interface PlanFigures {
  marks: PlanMark[];
  statistics: Maybe<'meanE' | 'meanN' | 'sdE' | 'sdN' | 'rmseE' | 'rmseN' | 'rmseR' | 'maxM' | 'biasTE' | 'biasTN'> & {
    count: number;
    biasSignificant: boolean;
    p95Note: string;
    /** Absent where the standard gives none. */
    p95M?: number | null;
  };
  statements: Array<{ standard: string; classCm: number; rmseM: number; p95M: number | null; caveat: string | null }>;
  /** Absent in checks of older make. */
  trend?: PlanTrend | null;
  markSdM?: number;
  cloudSdM: number;
  toleranceM: number;
  within: boolean | null;
  distances: PlanDistance[];
}

export interface Content {
  figures: PlanFigures;
  sights: KeptSight[];
  measured: KeptMeasurement[];
  cloudSdM: number;
  cloudSdHM: number;
  picks: Pick[];
  toleranceM: number;
  crs: string;
  settings: { target: TargetKind; edgeM: number; radiusM: number; searchM: number };
  patch: { edgeM: number; cellM: number };
}

export default kind<Content>({
  name: 'Check of plan',
  counts: 'marks',
  card: ({ figures: { statistics: s } }, small) =>
    s.rmseR === null
      ? 'no check mark found'
      : `RMSE ${(s.rmseR * small.factor).toFixed(small.digits + 1)} ${small.symbol}, ${s.count} check marks`,
  judgedBy: (c) => c.toleranceM,
  exports: { plan: { label: 'Residuals, CSV', extension: 'csv', type: 'text/csv', by: 'plan-check' } },
});
