import { kind } from '../declare/kind';
import { type PointFormat } from '../formats';

/** Points written to one file, or to several. */
export interface PointsContent {
  format: PointFormat;
  split: 'one' | 'strips' | 'tiles';
  crs: string;
  figures: {
    points_in: number;
    points_out: number;
    left_out_rejected: number;
    left_out_class: number;
    left_out_strip: number;
  };
  file?: string;
  /** The file of exports made by earlier versions. */
  las?: string;
  bytes?: number;
  lost?: string[];
  pieces?: PieceContent[];
  /** Object with the index of the tiles. */
  index?: string;
  cap?: number;
}

/** One of several files of points: its own points, those of its buffer among all. */
export interface PieceContent {
  name: string;
  own: number;
  neighbours: number;
  bounds?: { west: number; south: number; east: number; north: number };
  /** Names of the tiles that touch it. */
  touching?: string[];
  sha256: string;
  bytes: number;
}

/** A trajectory written for somebody else. */
export interface HandoverContent {
  object: string;
  rows: number;
  heights: string;
  undulationM: number;
  plan: 'grid' | 'geographic';
  kindOfHeight: 'ellipsoidal' | 'project' | 'geoid';
  rateHz: number | null;
  crs: string;
}

export type Content = PointsContent | HandoverContent;

export const isPoints = (c: Content): c is PointsContent => 'split' in c;

export default kind<Content>({
  name: 'Points to a file',
  counts: 'points',
  exports: {
    trajectory: {
      label: 'Trajectory, CSV',
      extension: 'csv',
      type: 'text/csv',
      object: (c) => (isPoints(c) ? undefined : c.object),
    },
  },
});
