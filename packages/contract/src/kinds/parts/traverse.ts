/** Figures of an adjusted total-station job, as its command reports them: lengths in metres, angles in degrees, 1 SD. */
export interface TraverseFigures {
  job: string | null;
  set_ups: number;
  readings: number;
  sightings: number;
  angular_unit: string;
  linear_unit: string;
  /** One reading as written and as understood. */
  example: { set_up: string; target: string; written: string; understood: string } | null;
  instrument: {
    collimation_deg: number;
    index_deg: number;
    pairs: number;
    single_face: number;
    /** Deviation of one pointing that both faces show; null where too few pairs do. */
    pointing_deg: number | null;
    angle_sd_deg: number;
    /** Whether it was given, taken from both faces, or usual. */
    angle_sd_from: 'given' | 'faces' | 'usual';
    distance_sd_m: number;
    distance_ppm: number;
    place_sd_m: number;
    place_sd_from: 'given' | 'residuals';
  };
  applied: {
    refraction: number;
    /** Grid lengths over lengths at the instruments, least and most of all set-ups; and the grid's convergence. */
    grid_factor: [number, number];
    convergence_deg: [number, number];
  };
  sigma0: number | null;
  chi2_ok: boolean | null;
  /** Range of sigma nought in 95 of 100 jobs whose deviations are right. */
  sigma0_expected: [number, number] | null;
  freedom: number;
  scale: number;
  closures: Array<{
    stations: string[];
    kind: 'between known points' | 'closed' | 'open';
    length_m: number;
    angle_deg: number | null;
    angle_sd_deg: number | null;
    de_m: number | null;
    dn_m: number | null;
    dh_m: number | null;
    plan_sd_m: number;
    height_sd_m: number;
    both_ways_length_m: number | null;
    both_ways_height_m: number | null;
    ok: boolean | null;
  }>;
  points: Array<{
    name: string;
    kind: 'control' | 'check' | 'station' | 'sighted';
    code: string | null;
    easting_m: number;
    northing_m: number;
    height_m: number;
    sd_e_m: number;
    sd_n_m: number;
    sd_h_m: number;
    /** Ellipse of 1 SD in plan. */
    major_m: number;
    minor_m: number;
    bearing_deg: number;
    redundancy: number;
    /** Whether anything beyond the least that fixes it speaks for it. */
    checked: boolean;
    rays: number;
    /** Adjusted less given, east, north, height: of known marks. */
    moved_m: [number, number, number] | null;
  }>;
  set_up_list: Array<{
    id: string;
    station: string;
    backsight: string | null;
    /** Grid bearing of the circle's zero. */
    bearing_deg: number | null;
    sd_deg: number | null;
    instrument_height_m: number;
    /** Scans that the job names with it, by their files' names without ending. */
    scans: string[];
  }>;
  observations: Array<{
    set_up: string;
    from: string;
    to: string;
    kind: 'direction' | 'zenith' | 'distance' | 'height';
    length_m: number;
    /** Adjusted less observed: of angles at the target, metres. */
    residual_m: number;
    residual_deg: number | null;
    redundancy: number;
    test: number | null;
  }>;
  rejected: Array<{
    what: string;
    set_up: string | null;
    station: string | null;
    target: string | null;
    off_m: number;
    sd_m: number;
    /** Of a sighting across, along, above; of a mark in plan north, east. */
    apart_m: number[] | null;
    test: number;
    instead: string[];
    says: string;
  }>;
  unplaced: string[];
}
