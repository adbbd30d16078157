/** Units in which instruments write angles. */
export const ANGULAR_UNITS = ['degrees', 'dd.mmss', 'grads', 'radians'] as const;
export type AngularUnit = (typeof ANGULAR_UNITS)[number];

/** An instrument over a point. */
export interface SetUp {
  id: string;
  /** Point that it stands over. */
  station: string;
  instrumentHeightM: number;
  /** Point that it was oriented by, when the job names one; its reading is one among the others. */
  backsight?: string;
}

/** What was read to one target in one face. */
export interface Reading {
  setUp: string;
  target: string;
  targetHeightM: number;
  face: 1 | 2;
  /** Of the circle, clockwise on whatever zero. */
  horizontalRad?: number;
  zenithRad?: number;
  /** As measured, corrected for air and prism. */
  slopeM?: number;
  code?: string;
}

/** A point with coordinates in the job: rough values, unless a list of marks says how good they are. */
export interface JobPoint {
  name: string;
  eastingM: number;
  northingM: number;
  heightM?: number;
  code?: string;
}

/** A file that belongs to the job. */
export interface JobFile {
  what: 'scan' | 'image';
  setUp?: string;
  /** As the job names it, relative to its own place. */
  location: string;
}

/** What a job says of itself that it holds, by kind, where it does. */
export interface TerrestrialJob {
  name?: string;
  setUps: SetUp[];
  readings: Reading[];
  points: JobPoint[];
  files: JobFile[];
}
