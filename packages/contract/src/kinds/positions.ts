import { kind } from '../declare/kind';

/** Figures of positioned events, as their command reports them. */
export interface EventFigures {
  settings?: object;
  point?: string;
  lever_arm_applied?: boolean;
  events?: number;
  positions?: number;
  events_outside?: number;
  events_stray?: number;
  events_left_out?: number;
  photos?: number;
  photos_paired?: number;
  photos_paired_by?: string;
  events_alone?: number;
  camera_clock_s?: number | null;
  ground_m?: number;
  farthest_m?: number;
  footprints?: number;
  footprints_cut?: number;
  overlap_next_median?: number | null;
  overlap_side_median?: number | null;
  overlap_gaps?: number;
  ground_sample_m?: number | null;
}

/** A row of the table of events, an object of the store. */
export interface EventRow {
  event: number;
  label: string;
  gps: number;
  /** Why it has no position; empty when it has one. */
  reason: string;
  kept: boolean;
  stray: boolean;
  photo: string | null;
  offS: number | null;
  xyz: number[] | null;
  attitudeDeg: number[] | null;
  sdM: number[] | null;
  solution: string;
  footprint: number[][] | null;
  cut: boolean;
  overlap: number | null;
  side: number | null;
}

export interface Content {
  object: string;
  point: string;
  crs: string;
  figures: EventFigures;
  photosAlone: string[];
  /** Object with the rows. */
  table: string;
}

export default kind<Content>({
  name: 'Positions of events',
  counts: 'events',
  exports: { positions: { label: 'Positions, CSV', extension: 'csv', type: 'text/csv', object: (c) => c.object } },
});
