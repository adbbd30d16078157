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
}

export interface CheckFigures {
  hard: CoverFigures;
  soft: CoverFigures;
  marks: MarkFigures[];
  count: number;
  mean_m: number | null;
  median_m: number | null;
  sd_m: number | null;
  rmse_m: number | null;
  min_m: number | null;
  max_m: number | null;
  p95_m: number | null;
  nmad_m: number | null;
  bias_t: number | null;
  bias_significant: boolean;
  /** The tilt of the residuals; absent in checks of older make, null for too few marks. */
  trend?: {
    east_m_per_100m: number;
    north_m_per_100m: number;
    sd_east_m_per_100m: number;
    sd_north_m_per_100m: number;
    significant: boolean;
  } | null;
  class_2014_cm: number | null;
  class_2024_cm: number | null;
  contour_interval_m: number | null;
  tolerance_m: number;
  within_tolerance: boolean | null;
  statements: Array<{
    standard: string;
    class_cm: number;
    rmse_m: number;
    p95_m: number | null;
    caveat: string | null;
  }>;
}
