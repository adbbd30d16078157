import { type RegisterFigures } from './parts/register';
import { type SoundingFigures } from './parts/soundings';
import { type ReturnLimits } from '@longheron/core/laser';
import { type CloudEditEntry } from '../api';
import { extentDrawing, kind, rawExport, type FileContent, type GridLayout } from '../declare/kind';

/** Density in plan, by squares of a metre. */
export interface DensityContent {
  /** Object of the picture. */
  picture: string;
  layout: GridLayout;
  /** Of the squares with points: median density, and the share below the target. */
  medianPerM2: number;
  targetPerM2: number;
  belowShare: number;
  coveredM2: number;
}

/** What the keeper of clouds makes of a LAS file. */
export interface StoredContent {
  las: string;
  bytes?: number;
  /** Object of the index, and the one with the row in the file of each stored point. */
  index: string;
  order: string;
  countsByClass: Record<string, number>;
  density?: DensityContent | null;
  /** What was done to it since; what its file says is withheld comes first. */
  edits?: CloudEditEntry[];
  rejected?: number;
}

/** A strip of a placed cloud. */
export interface StripFigures {
  id: number;
  start_sow: number;
  end_sow: number;
  length_m: number;
  points: number;
}

/** Figures of a placed cloud, as its command reports them. */
export interface PlaceFigures {
  settings?: { limits?: ReturnLimits; [more: string]: unknown };
  points_in: number;
  points_out: number;
  points_outside_trajectory: number;
  points_outside_strips: number;
  /** Absent when no limit was set. */
  points_rejected?: number;
  rejected_by_range?: number;
  rejected_by_intensity?: number;
  rejected_by_azimuth?: number;
  sd_e_m: number;
  sd_n_m: number;
  sd_h_m: number;
  strips: StripFigures[];
  left_out: Array<{ start_sow: number; end_sow: number; length_m: number; reason: string }>;
}

export interface ClassifyFigures {
  points: number;
  strays: number;
  ground: number;
}

/** What one photograph gave to the colours. */
export interface PictureFigures {
  image: string;
  camera: string;
  /** Points in its frame, those that something hides from it, and those that have their colour from it. */
  in_frame: number;
  hidden: number;
  points: number;
  /** Shift of its edges against those of intensities, to the right and down; null where edges tell nothing. */
  dx_px: number | null;
  dy_px: number | null;
  correlation: number | null;
}

/** How a cloud was coloured, as its command reports it. */
export interface ColourFigures {
  points: number;
  coloured: number;
  coloured_share: number;
  /** Points that something hides from every photograph they lie in. */
  hidden: number;
  /** Points for which photographs disagreed about what is there. */
  outvoted: number;
  photographs: number;
  paired_by: string;
  photos_alone: number;
  positions_alone: number;
  /** How far edges of photographs and intensities lie apart: median over photographs; null where none tells. */
  shift_px: number | null;
  shift_right_px: number | null;
  shift_down_px: number | null;
  pictures: PictureFigures[];
}

/** How a cloud was made from photographs, as its command reports it. */
export interface MatchFigures {
  points: number;
  cell_m: number;
  cells: number;
  /** Of the cells of the area, those that have a point. */
  share: number;
  photographs: number;
  pairs: number;
  /** Cells on which pairs disagreed, and those that one pair alone saw: they have no point. */
  disagreed: number;
  alone: number;
  /** 1 SD of a match, pixels, by what pairs differ by: where photographs show most, and where least. */
  label_sd_px: [number, number] | null;
  /** RMS of the stated deviations of heights. */
  sd_h_m: number;
  heights_m: [number, number];
  /** West, south, east, north of what was matched. */
  area_m: [number, number, number, number];
}

/** Of what one cloud was made: what each operation adds to what is stored. */
export interface Made {
  crs?: string;
  figures?: PlaceFigures | ClassifyFigures | { points: number };
  /** Marks whose mean residual was taken out of its heights. */
  corrected?: { valueM: number; sdM: number; t: number | null; by: string; marks: string[] };
  /** Marks that it was placed by. */
  aligned?: {
    points: Array<{ mark: string; eM: number; nM: number; hM: number; allM: number; missM: number | null }>;
    sdM: number | null;
    redundancy: number;
    stretch: number[];
    headingDeg: number;
    tiltDeg: number;
    scale: string;
    level: boolean;
  };
  merged?: Array<{ name: string; points: number; stripsMovedBy: number }>;
  reprojected?: { from: string; to: string; stated: boolean };
  coloured?: ColourFigures;
  matched?: MatchFigures;
  registered?: RegisterFigures;
  sounded?: SoundingFigures;
  /** Object with a picture of mean heights of soundings, and its cells. */
  plan?: { picture: string; layout: GridLayout; lowM: number; highM: number };
  /** Object with the poses of scans, and with sections through pairs of them. */
  poses?: string;
  sections?: string;
  smoothed?: { radiusM: number; thickM: number; mostM: number };
  /** Of one that came in another format. */
  converted?: {
    format: string;
    points: number;
    left: number;
    lost: string[];
    /** Its scans, by the numbers of their points' sources from 1: origin, and nine numbers that turn their axes. */
    stands?: Array<{ name: string; atM: [number, number, number]; rotation: number[] }>;
  };
  pointText?: { header: string[] | null; sample: string[][]; columns: { [column: string]: number } } | null;
  groundHeights?: { revision: number };
}

/** A cloud that was taken in has no store until its job has ended. */
export type Content = Partial<FileContent> & Partial<StoredContent> & Made;

const million = (n: number) => `${(n / 1e6).toFixed(2)} million points`;

export default kind<Content>({
  name: 'Point cloud',
  counts: 'points',
  card: ({ figures, countsByClass }) => {
    if (figures && 'points_out' in figures) return million(figures.points_out);
    const n = Object.values(countsByClass ?? {}).reduce((sum, k) => sum + k, 0);
    return n ? million(n) : '';
  },
  exports: {
    ...rawExport,
    las: { label: 'LAS 1.4', extension: 'las', type: 'application/octet-stream', object: (c) => c.las },
    poses: {
      label: 'Poses of scans, CSV',
      extension: 'csv',
      type: 'text/csv',
      object: (c) => c.poses,
      there: (c) => !!c.poses,
      suffix: '_poses',
    },
  },
  onMap: (c) =>
    c.plan ? [{ draw: 'picture', object: c.plan.picture, layout: c.plan.layout, of: 'soundings' }] : extentDrawing(c),
});

/** Whether a cloud is stored, so that it can be looked at and worked on. */
export const isStored = (c: Content): c is Content & StoredContent => !!c.las && !!c.index && !!c.order;
