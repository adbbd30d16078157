import { type MountingJson } from '@longheron/core/frames';
import { kind } from '../declare/kind';

export type PatchTerm = 'roll' | 'pitch' | 'heading' | 'latency';

/** Two lines that overlap, and what they are good for. */
export interface PatchPairFigures {
  a: number;
  b: number;
  cells: number;
  turn_deg: number;
  speed_ratio: number;
  /** Median difference of beam angles where they overlap, degrees. */
  apart_deg: number;
  slope: number;
  serves: PatchTerm[];
}

export interface PatchLineFigures {
  id: number;
  file: string;
  pings: number;
  heading_deg: number;
  speed_mps: number;
  /** Its way, thinned: easting and northing, one after the other. */
  path: number[];
}

/** How a mounting was tested, as the command reports it: corrections with 1 SD; null where a term is held. */
export interface PatchFigures {
  roll_deg: number | null;
  roll_deg_sd: number | null;
  pitch_deg: number | null;
  pitch_deg_sd: number | null;
  heading_deg: number | null;
  heading_deg_sd: number | null;
  latency_s: number | null;
  latency_s_sd: number | null;
  held: Array<{ term: PatchTerm; needs: string }>;
  /** Pairs of terms that the lines hardly tell apart. */
  together: Array<{ a: PatchTerm; b: PatchTerm; correlation: number }>;
  /** Root mean square of differences of one line from another, metres. */
  before_m: number;
  after_m: number;
  cells: number;
  cell_m: number;
  soundings: number;
  steps: number;
  sensor: string;
  before: { roll_deg: number; pitch_deg: number; heading_deg: number; latency_s: number };
  after: { roll_deg: number; pitch_deg: number; heading_deg: number; latency_s: number };
  lines: PatchLineFigures[];
  pairs: PatchPairFigures[];
}

/** Soundings of two lines in a narrow upright slice, as they were and as they are: distance and height, one after the other. */
export interface PatchSlice {
  a: number;
  b: number;
  easting_m: number;
  northing_m: number;
  bearing_rad: number;
  half_m: number;
  /** Along or across the first line. */
  way: 'along' | 'across';
  off_before_m: number;
  off_after_m: number;
  before: { first: number[]; second: number[] };
  after: { first: number[]; second: number[] };
}

export interface PatchSliceFile {
  slices: PatchSlice[];
}

export interface Content {
  figures: PatchFigures;
  mounting: MountingJson;
  /** Object with the mounting as a file. */
  mountingObject: string;
  /** Object with slices through pairs. */
  slices?: string;
  crs: string;
}

export default kind<Content>({
  name: 'Mounting test',
  counts: 'cells',
  card: ({ figures: f }) => `${(100 * f.before_m).toFixed(1)} to ${(100 * f.after_m).toFixed(1)} cm between lines`,
  exports: {
    mounting: {
      label: 'Tested mounting, JSON',
      extension: 'json',
      type: 'application/json',
      object: (c) => c.mountingObject,
    },
  },
});
