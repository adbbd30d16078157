import { extentDrawing, kind, rawExport, type FileContent } from '../declare/kind';

/** How the heading at the start was found, in words. */
export const ALIGNED_BY: Readonly<Record<string, string>> = {
  given: 'typed heading',
  motion: 'motion',
  earth: 'Earth rotation',
};

/** Figures of a computed trajectory, as its command reports them; deviations are 1 SD, RMS. */
export interface TrajectoryFigures {
  settings?: {
    systems?: string;
    mask_deg?: number;
    direction?: string;
    left_out?: string[];
    frequencies?: string;
    base_xyz_m?: number[];
    base_shift_m?: number;
    antenna_height_m?: number;
    orbits?: string;
    phase_centres?: boolean;
    solid_tide?: boolean;
    frame?: string;
  };
  seconds?: number;
  platform?: string;
  alignment?: { by: string; seconds: number; heading_sd_deg?: number };
  epochs?: number | null;
  epochs_without_position?: number | null;
  fixed_share?: number | null;
  float_share?: number | null;
  code_share?: number | null;
  sd_n_m?: number | null;
  sd_e_m?: number | null;
  sd_d_m?: number | null;
  baseline_m?: number | null;
  cycle_slips?: number | null;
  /** What the session says of its noise: one receiver at 45° of elevation, 1 SD; what the ionosphere leaves, vertical. */
  session_noise?: {
    code_m: number;
    code_multipath_m: number;
    phase_m: number;
    phase_multipath_m: number;
    multipath_s: number;
    ionosphere_m: number;
  };
  satellites_mean?: number | null;
  separation_rms_m?: number | null;
  separation_max_m?: number | null;
  rows?: number | null;
  inertial_share?: number | null;
  sd_roll_deg?: number | null;
  sd_pitch_deg?: number | null;
  sd_heading_deg?: number | null;
  positions_refused_share?: number | null;
  innovation_normalised?: number | null;
  lever_arm_entered_sd_m?: number | null;
  /** Noise of the inertial unit that was taken, 1 SD, and who said so. */
  unit_noise?: {
    from: string;
    grade: string;
    seconds?: number;
    gyro_walk_deg_root_h: number;
    gyro_bias_deg_h: number;
    gyro_drift_deg_h: number;
    accel_walk_mps_root_h: number;
    accel_bias_mg: number;
    accel_drift_mg: number;
    scale_ppm: number;
    /** Axes of accelerometers against those of gyros, ppm of a radian. */
    axes_ppm: number;
    source: string;
    /** Of each grade that was tried, less that of the likeliest. */
    log_likelihood?: Record<string, number>;
  };
  gyro_bias_deg_h?: number[] | null;
  gyro_bias_sd_deg_h?: number[] | null;
  accel_bias_mg?: number[] | null;
  accel_bias_sd_mg?: number[] | null;
  lever_arm_m?: number[] | null;
  lever_arm_sd_m?: number[] | null;
  lever_arm_entered_m?: number[] | null;
  passes_ned_m?: number[] | null;
  passes_attitude_deg?: number[] | null;
}

export interface Content extends FileContent {
  /** Object with plots and path in a system. */
  preview?: string;
  previewCrs?: string;
  /** West, south, east, north of the path and its lowest and highest, metres; and the undulation in its middle. */
  around?: { extent: [number, number, number, number]; undulationM: number; heightM: [number, number] };
  /** What it is the path of: `imu`, `antenna` or a name. */
  point?: string;
  /** Objects with the sky, and with what the filter said of itself. */
  sky?: string | null;
  diagnostics?: string;
  figures?: TrajectoryFigures;
  joined?: Array<{ name: string; start_sow: number; end_sow: number; epochs: number }>;
  overlaps?: Array<{ first: string; second: string; length_s: number; apart_m: number }>;
}

export default kind<Content>({
  name: 'Trajectory',
  counts: 'epochs',
  exports: {
    ...rawExport,
    trajectory: { label: 'As computed, CSV', extension: 'csv', type: 'text/csv', object: (c) => c.object },
    quality: {
      label: 'Figures of quality, CSV',
      extension: 'csv',
      type: 'text/csv',
      by: 'position',
      suffix: '_quality',
    },
  },
  onMap: (c) => [...(c.preview ? [{ draw: 'path' as const, preview: c.preview }] : []), ...extentDrawing(c)],
});
