import { type MountingJson } from '@longheron/core/frames';
import { kind, type GridLayout } from '../declare/kind';

/** One parameter of a head: angles in degrees, lengths in metres. */
export interface ParameterFigures {
  head: string;
  name: 'roll' | 'pitch' | 'heading' | 'lever x' | 'lever y' | 'lever z' | 'range';
  solved: boolean;
  /** Why it was held; null when it was solved. */
  held: string | null;
  before: number;
  after: number;
  /** 1 SD of the result; null when nothing is known. */
  sd: number | null;
  /** What lines alone would determine it to; null when not asked. */
  sd_from_lines: number | null;
}

/** A line seen by one head. */
export interface PieceFigures {
  strip: number;
  head: string;
}

/** Two pieces where both lie, the second less the first along the normal of the surface, metres. */
export interface PairFigures {
  first: PieceFigures;
  second: PieceFigures;
  patches: number;
  before_mean_m: number;
  before_rms_m: number;
  after_mean_m: number | null;
  after_rms_m: number | null;
  /** What the scatter of the points lets expect. */
  noise_m: number;
}

export interface HeldFigures {
  what: string;
  reason: string;
  /** 1 SD to which lines alone would determine it; null when they do not at all. */
  sd: number | null;
  unit: '°' | 'm' | '';
}

export interface ControlFigures {
  name: string;
  used: boolean;
  before_m: number | null;
  after_m: number | null;
  /** How many strips lie at it on planar ground. */
  strips: number;
}

/** Figures of an adjustment, as its command reports them. */
export interface AdjustmentFigures {
  before_m: number;
  after_m: number;
  noise_m: number;
  /** RMS of shifts in plan on roofs and banks, between lines; null where slopes are lacking. */
  plan_before_m: number | null;
  plan_after_m: number | null;
  plan_places: number;
  cell_m: number;
  patches: number;
  rough: number;
  patch_sd_m: number;
  down_weighted_share: number;
  rounds: number;
  returns_in_strips: number;
  returns_outside: number;
  range_m: number;
  strips: Array<{
    id: number;
    start_sow: number;
    end_sow: number;
    length_m: number;
    heading_deg: number;
    points: number;
  }>;
  left_out: Array<{ start_sow: number; end_sow: number; length_m: number; reason: string; points: number }>;
  parameters: ParameterFigures[];
  /** Between solved parameters, in their order. */
  correlation: number[][];
  /** Correction of heights made, by line and moment. */
  drift: Array<{ strip: number; gps_sow: number; dh_m: number; sd_m: number }>;
  overlaps: PairFigures[];
  held: HeldFigures[];
  control: ControlFigures[];
}

/** Distance along a slice and height, metres, alternating, of both pieces. */
export interface ProfilePoints {
  first: number[];
  second: number[];
}

/** A slice through an overlap, across its first line. */
export interface Profile {
  /** Places of both pieces in the file's list. */
  first: number;
  second: number;
  eastingM: number;
  northingM: number;
  /** Direction in which distances grow, radians from grid north. */
  bearingRad: number;
  beforeRmsM: number;
  afterRmsM: number | null;
  before: ProfilePoints;
  after: ProfilePoints;
}

/** The object with cross-profiles. */
export interface ProfileFile {
  pieces: PieceFigures[];
  /** Worst first. */
  profiles: Profile[];
}

/** Colours of differences on the map, from none to the limit and beyond. */
export const DIFFERENCE_COLOURS = ['#dee8ee', '#a5c4d8', '#e9cd8c', '#cd862d', '#8c3420'] as const;

export interface Content {
  figures: AdjustmentFigures;
  mounting: MountingJson;
  /** Objects with the calibrated mounting and the corrected trajectory. */
  mountingObject: string;
  trajectoryObject: string;
  /** Whether anything of the trajectory was corrected. */
  corrected: boolean;
  /** What was solved for. */
  solved: string[];
  /** Marks that entered. */
  marks: string[];
  crs: string;
  /** Pictures of differences on one scale, whose end is the limit. */
  pictures: { before: string; after: string } | null;
  layout: GridLayout;
  limitM: number;
  /** Object with the differences before and after, thinned for a histogram. */
  values: string;
  /** Object with cross-profiles of overlaps, worst first. */
  profiles: string | null;
}

export default kind<Content>({
  name: 'Strip adjustment',
  counts: 'strips',
  card: ({ figures: f }, small) => {
    const length = (m: number) => (m * small.factor).toFixed(small.digits + 1);
    return `RMS ${length(f.before_m)} → ${length(f.after_m)} ${small.symbol}, ${f.strips.length} ${f.strips.length === 1 ? 'strip' : 'strips'}`;
  },
  exports: {
    mounting: {
      label: 'Calibrated mounting, JSON',
      extension: 'json',
      type: 'application/json',
      object: (c) => c.mountingObject,
      suffix: '_mounting',
    },
    trajectory: {
      label: 'Corrected trajectory, CSV',
      extension: 'csv',
      type: 'text/csv',
      object: (c) => (c.corrected ? c.trajectoryObject : undefined),
      there: (c) => c.corrected,
      suffix: '_trajectory',
    },
    pairs: { label: 'Pairs of strips, CSV', extension: 'csv', type: 'text/csv', by: 'strips', suffix: '_pairs' },
    drift: { label: 'Corrections of lines, CSV', extension: 'csv', type: 'text/csv', by: 'strips', suffix: '_drift' },
  },
  onMap: (c) =>
    c.pictures ? [{ draw: 'picture', object: c.pictures.before, layout: c.layout, of: 'differences' }] : [],
});
