/** How soundings were reduced, as the command reports it: metres and degrees, 1 SD. */
export interface SoundingFigures {
  pings: number;
  soundings: number;
  /** Root mean square of the stated deviations. */
  sd_h_m: number;
  sd_plan_m: number;
  /** Pings outside the trajectory or in a gap of it, and those for which the gauge has no level. */
  outside: number;
  without_level: number;
  /** Detections that the instrument grades low: they are in the cloud, rejected. */
  doubtful: number;
  /** Beams that met nothing: turned up by the water, or pointing up. */
  without_bottom: number;
  /** Pings without a usable speed at the head: that of the cast was taken. */
  without_surface_speed: number;
  binned: boolean;
  /** Where heights come from; relative ones count from the water, or from a datum that is not tied in. */
  heights: 'trajectory' | 'gauge' | 'relative';
  heights_above: string;
  path: 'trajectory' | 'navigation';
  cast_by: 'time' | 'place';
  latency_s: number;
  waterline_m: number | null;
  lines: SoundingLine[];
  casts: SoundingCast[];
  /** Real-time navigation less the trajectory; null when only one of both is there. */
  navigation: NavigationDifference | null;
  /** Root mean square of each cause, over all soundings. */
  causes: Array<{ cause: string; height_m: number; plan_m: number }>;
  by_angle: Array<{ from_deg: number; to_deg: number; soundings: number; sd_h_m: number; sd_plan_m: number }>;
}

export interface SoundingLine {
  id: number;
  file: string;
  start_sow: number;
  end_sow: number;
  length_m: number;
  heading_deg: number;
  speed_mps: number;
  pings: number;
  soundings: number;
  /** Its way, thinned: easting and northing, one after the other. */
  path: number[];
  lowest_m: number;
  highest_m: number;
}

export interface SoundingCast {
  name: string;
  week: number;
  sow: number;
  lat_deg: number;
  lon_deg: number;
  easting_m: number;
  northing_m: number;
  pings: number;
  /** Longest time between it and a ping that used it, seconds; furthest such place, metres. */
  age_s: number;
  away_m: number;
  /** Largest difference of the speed at the head from it, signed, m/s; null when no ping used it. */
  surface_off_mps: number | null;
  depth_m: number[];
  speed_mps: number[];
}

export interface NavigationDifference {
  north_m: number;
  east_m: number;
  height_m: number | null;
  plan_rms_m: number;
  roll_deg: number | null;
  pitch_deg: number | null;
  heading_deg: number | null;
}

/** What the uncertainty of a sounding comes from, in words. */
export const CAUSE_WORDS: { readonly [cause: string]: string } = {
  position: 'Place of the vessel',
  attitude: 'Attitude of the vessel',
  mounting: 'Mounting',
  latency: 'Latency',
  range: 'Range',
  angle: 'Beam angle',
  water: 'Sound speed',
  height: 'Height of the vessel',
};

/** Colours of the bed from the deepest to the shoalest: dark blue to pale sand, each step lighter than the one before. */
export const DEPTH_COLOURS = ['#1c305c', '#265c84', '#488e9e', '#8cbeb0', '#d6deba', '#f6e8c8'];
