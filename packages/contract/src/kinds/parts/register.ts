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
    /** The least sure direction of its place, and its deviation. */
    weakest: [number, number, number];
    weakest_sd_m: number;
    grid_factor: number | null;
    convergence_deg: number | null;
  }>;
  pairs: Array<{ a: string; b: string; rms_m: number; points: number }>;
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
