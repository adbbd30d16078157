import { kind } from '../declare/kind';

/** Figures of a height check as the run reports them; metres. */
export interface MarkFigures {
  name: string;
  role: 'control' | 'check' | 'unused';
  cover: 'hard' | 'soft';
  used: boolean;
  left_out: string | null;
  used_for?: string | null;
  easting_m: number;
  northing_m: number;
  height_m: number;
  surface_m: number | null;
  residual_m: number | null;
  method: string;
  points: number;
  quadrants: number;
  plane_m: number | null;
  triangle_m: number | null;
  density_per_m2: number;
  slope_percent: number | null;
  nearest_m: number | null;
  expected_sd_m: number;
  test_t: number | null;
  flagged: boolean;
  reason: string | null;
}

export interface CoverFigures {
  count: number;
  mean_m: number | null;
  sd_m: number | null;
  rmse_m: number | null;
  min_m: number | null;
  max_m: number | null;
  p95_m: number | null;
}

/** The tilt that residuals show, metres on 100 m. */
export interface TrendFigures {
  marks: number;
  east_m_per_100m: number;
  north_m_per_100m: number;
  sd_east_m_per_100m: number;
  sd_north_m_per_100m: number;
  chance: number;
  significant: boolean;
  sd_after_m: number;
}

export interface StatementFigures {
  standard: string;
  class_cm: number;
  rmse_m: number;
  p95_m: number | null;
  caveat: string | null;
}

export interface CheckFigures extends CoverFigures {
  hard: CoverFigures;
  soft: CoverFigures;
  marks: MarkFigures[];
  median_m: number | null;
  nmad_m: number | null;
  bias_t: number | null;
  bias_significant: boolean;
  /** Absent in checks of older make, null for too few marks. */
  trend?: TrendFigures | null;
  class_2014_cm: number | null;
  class_2024_cm: number | null;
  contour_interval_m: number | null;
  statements: StatementFigures[];
}

/** With the verdict of the project's tolerance. */
export interface JudgedFigures extends CheckFigures {
  tolerance_m: number;
  within_tolerance: boolean | null;
}

export interface Content {
  figures: JudgedFigures;
  crs: string;
}

export default kind<Content>({
  name: 'Height check',
  counts: 'marks',
  card: ({ figures: f }, small) =>
    f.count && f.rmse_m !== null
      ? `RMSE ${(f.rmse_m * small.factor).toFixed(small.digits + 1)} ${small.symbol}, ${f.count} check marks`
      : 'no check mark found',
  judgedBy: ({ figures }) => figures.tolerance_m || null,
  exports: { residuals: { label: 'Residuals, CSV', extension: 'csv', type: 'text/csv', by: 'check' } },
});
