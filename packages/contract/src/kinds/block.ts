import { kind, type GridLayout } from '../declare/kind';

/** Colours of overlap from one photograph to many, and of deviations from small to large. */
export const OVERLAP_COLOURS = ['#b3261e', '#e8cfa0', '#cfe0e2', '#7fb3b8', '#2f7f86', '#0a474d'] as const;
export const EXPECTED_COLOURS = ['#fde725', '#6dcd59', '#1f9e89', '#31688e', '#482878', '#440154'] as const;

/** A point of a check or of control: found less given, metres. */
export interface BlockMark {
  name: string;
  rays: number;
  de_m: number | null;
  dn_m: number | null;
  dh_m: number | null;
  /** 1 SD of the difference, by what the adjustment and the list state. */
  sd_e_m: number | null;
  sd_n_m: number | null;
  sd_h_m: number | null;
  /** Does not fit: left out of the adjustment (control), or of the statistics (check). */
  flagged: boolean;
}

export interface BlockCameraFigures {
  /** A full panorama has nothing to be found. */
  model?: 'sphere';
  images: number;
  focal_px: number;
  nominal_focal_px: number;
  /** Adjusted less nominal, per cent of the focal length. */
  focal_change_percent: number;
  /** What adjusted and nominal camera do differently, RMS and most over the picture, pixels. */
  change_rms_px: number;
  change_max_px: number;
  terms: Array<{ name: string; nominal: number; value: number; sd: number; found: boolean }>;
  correlation: number[][];
  /** Residuals by parts of the picture, rows of parts after each other: what is alike there is the lens's. */
  area?: {
    columns: number;
    rows: number;
    parts: Array<{ rays: number; du_px: number; dv_px: number; rms_px: number }>;
  };
}

/** What a block would know of places on the ground, were they picked in all photographs that see them. */
export interface BlockExpectation {
  layout: GridLayout;
  /** Pictures, a pixel a cell: photographs that see it; deviation of its height. */
  overlap: string;
  height: string;
  /** Where the scales end: that many photographs and more; metres, the least and the largest. */
  mostPictures: number;
  heightM: [number, number];
  /** Of the cells that two photographs see: share that only two see, and the middle deviations, metres. */
  onlyTwo: number;
  medianPlanM: number;
  medianHeightM: number;
}

export interface BlockDistanceFigures {
  from: string;
  to: string;
  given_m: number;
  found_m: number | null;
  sd_m: number | null;
  use: 'scale' | 'check';
  /** As it was written, and in what unit. */
  given: number;
  unit: 'metre' | 'foot' | 'usSurveyFoot';
  agrees: boolean | null;
  /** What was written beside it on site. */
  note?: string;
}

/** How ties were found by themselves. */
export interface TieFigures {
  photographs: number;
  features: number;
  /** Pairs of photographs that tie, matches of descriptions in them, and those that fit one pose of the pair. */
  pairs: number;
  matched: number;
  agreed: number;
  /** Points found, those used, and how often these are seen. */
  found: number;
  used: number;
  rays: number;
  /** Between which depths things lie. */
  depth_m: [number, number] | null;
  /** Photographs that hang on few ties. */
  weak: Array<{ image: string; ties: number; partners: number }>;
}

/** Photographs of a block that were taken one after the other. */
export interface BlockSession {
  number: number;
  name: string;
  photographs: number;
  oriented: number;
  cameras: string[];
  /** Camera's clock of the first and the last, seconds from 1970 as if it showed UTC. */
  first_s: number | null;
  last_s: number | null;
  rays: number;
  rms_px: number | null;
  /** Given less found of the positions, east, north, height. */
  places_rms_m: [number, number, number] | null;
  /** Points that are seen in this session and in another. */
  joined: Array<{ with: number; points: number }>;
}

/** Figures of a block, as its command reports them. */
export interface BlockFigures {
  frame: 'earth' | 'local';
  sigma0: number | null;
  sigma0_ties: number | null;
  redundancy: number;
  /** What deviations of picks were multiplied with, and those of ties that were found by themselves. */
  pick_sd_factor: number;
  tie_sd_factor: number;
  /** Null where none were looked for. */
  ties: TieFigures | null;
  images: number;
  oriented: number;
  rays: number;
  points: number;
  control_rmse_m: number | null;
  control: BlockMark[];
  check: BlockMark[];
  check_rmse_e_m: number | null;
  check_rmse_n_m: number | null;
  check_rmse_h_m: number | null;
  check_all_rmse_e_m: number | null;
  check_all_rmse_n_m: number | null;
  check_all_rmse_h_m: number | null;
  cameras: { [name: string]: BlockCameraFigures };
  held: Array<{ camera: string; term: string; reason: string }>;
  /** Worst first. The application keeps all picks, and of ties the worst alone. */
  rejected: Array<{ image: string; point: string; residual_px: number; test: number; tie: boolean }>;
  picks_rejected: number;
  ties_rejected: number;
  /** Given places of pictures that the block contradicts: found less given. */
  places_out: Array<{ image: string; de_m: number; dn_m: number; dh_m: number; test: number }>;
  /** Pictures that could not be oriented. */
  left_out: Array<{ image: string; reason: string }>;
  distances: BlockDistanceFigures[];
  /** None where nothing but picks is known of the photographs. */
  sessions?: BlockSession[];
  /** By what positions are off alike, by session: given less found. */
  shifts: Array<{
    session: string;
    de_m: number;
    dn_m: number;
    dh_m: number;
    sd_e_m: number;
    sd_n_m: number;
    sd_h_m: number;
  }>;
}

/** A picture on the map: easting and northing, or x and y of a frame of its own; null: it could not be oriented. */
export interface BlockPicture {
  name: string;
  camera: string;
  at: [number, number] | null;
  rays: number;
  rms_px: number | null;
  /** Number of its session, and which of it this was, from 0 on. */
  session?: number;
  order?: number;
  /** Corners of what it shows of a level ground as high as the middle of the points, x and y by turns. */
  foot?: number[] | null;
}

export interface Content {
  figures: BlockFigures;
  pictures: BlockPicture[];
  /** Objects: orientations, points, cameras, and how the poses of pictures hang together. */
  oriented: string;
  points: string;
  cameras: string;
  poses?: string;
  /** Null in a frame of its own. */
  expected?: BlockExpectation | null;
  crs: string;
}

export default kind<Content>({
  name: 'Block of photographs',
  counts: 'photographs',
  card: ({ figures: f }) =>
    `${f.oriented} photographs, sigma nought ${f.sigma0 === null ? 'not known' : f.sigma0.toFixed(2)}`,
  exports: {
    oriented: { label: 'Orientations, CSV', extension: 'csv', type: 'text/csv', object: (c) => c.oriented },
    points: { label: 'Points, CSV', extension: 'csv', type: 'text/csv', object: (c) => c.points },
    cameras: { label: 'Cameras, JSON', extension: 'json', type: 'application/json', object: (c) => c.cameras },
  },
});
