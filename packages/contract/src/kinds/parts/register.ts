/** Two scans in a narrow upright slice: the object with sections, worst first. */
export interface SectionFile {
  sections: ScanSection[];
}

export interface ScanSection {
  a: string;
  b: string;
  /** Its middle, and the direction in which distances grow, radians from grid north. */
  easting_m: number;
  northing_m: number;
  height_m: number;
  bearing_rad: number;
  /** Half its length and how thick it is. */
  half_m: number;
  thick_m: number;
  /** What brought it here: how far surfaces differ in its middle; none where targets alone joined the scans. */
  off_m: number | null;
  /** Distance and height of each point, one after the other. */
  first: number[];
  second: number[];
}

/** How scans were placed, as the command reports it: metres and degrees, 1 SD. */
export interface RegisterFigures {
  points: number;
  sigma0: number | null;
  redundancy: number;
  /** Whether nothing says where the whole lies: the first scan keeps its own frame. */
  local: boolean;
  scans: Array<{
    name: string;
    /** Number of its points in the cloud, as the strip. */
    number: number;
    points: number;
    x_m: number;
    y_m: number;
    z_m: number;
    /** Turns the scanner's axes into east, north, up of the grid. */
    quaternion: [number, number, number, number];
    bearing_deg: number;
    tilt_deg: number;
    sd_x_m: number;
    sd_y_m: number;
    sd_z_m: number;
    sd_rot_deg: number;
    targets: number;
    /** Pieces of its surfaces that agree with other scans. */
    pieces: number;
    /** The least sure direction of its place, and its deviation. */
    weakest: [number, number, number];
    weakest_sd_m: number;
    grid_factor: number | null;
    convergence_deg: number | null;
  }>;
  /** RMS in space of common targets, as many as `points`; of surfaces where a pair has no targets. */
  pairs: Array<{
    a: string;
    b: string;
    rms_m: number;
    points: number;
    /** Pieces of surfaces that agree, and RMS of their distances along the normals; none where surfaces were not used. */
    pieces: number | null;
    surface_rms_m: number | null;
    /** Share of the pieces near anything of the other scan, and share of these that agree. */
    overlap: number | null;
    agreeing: number | null;
    /** East, north, up of the direction in which the surfaces of this pair alone say least, and 1 SD in it. */
    weakest: [number, number, number] | null;
    weakest_sd_m: number | null;
  }>;
  /** Scans whose pose nothing tells surely: they are not in the cloud. */
  unplaced: Array<{
    name: string;
    why: 'apart' | 'unlike' | 'weak';
    weakest: [number, number, number] | null;
    weakest_sd_m: number | null;
    says: string;
  }>;
  /** Pairs whose surfaces overlap and do not agree. */
  unlike: Array<{ a: string; b: string }>;
  /** Deviations of surfaces in those that the scatter of points tells; none without surfaces. */
  surface_factor: number | null;
  targets: Array<{
    name: string;
    control: boolean;
    scans: number;
    x_m: number;
    y_m: number;
    z_m: number;
    sd_m: [number, number, number];
  }>;
  residuals: Array<{ scan: string; target: string; de_m: number; dn_m: number; dh_m: number; test: number | null }>;
  rejected: Array<{
    what: 'sighting' | 'control' | 'station';
    scan: string | null;
    target: string | null;
    off_m: number | null;
    test: number;
    says: string;
  }>;
}
