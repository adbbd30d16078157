import { type Mark } from '@longheron/core/accuracy';
import { type KinematicSettings, type StaticMean } from '@longheron/core/gnss';
import { type VectorObservation } from '@longheron/core/network';

/** A point that keeps its coordinates within its deviations. */
export interface HeldPoint {
  name: string;
  /** Marker, Earth-centred metres; that of its recording's header without it. */
  xyzM?: [number, number, number];
  /** 1 SD north, east, down, metres. */
  sdM: [number, number, number];
}

export interface NetworkRequest {
  recordings: Array<{ paths: string[]; antennaHeightM?: number }>;
  navPaths: string[];
  orbitPaths?: string[];
  antennaPaths?: string[];
  held: HeldPoint[];
  /** Distances and levelled height differences, CSV. */
  measurementsPath?: string;
  /** Known marks: those that the measurements name are held with their own deviations. */
  marks?: Mark[];
  crs: string;
  settings?: Partial<KinematicSettings>;
  /** Shorter overlaps are no session, seconds. */
  leastS?: number;
  outPath?: string;
  names?: Record<string, string>;
}

/** A vector as computed, before the adjustment. */
export interface ComputedVector {
  from: string;
  to: string;
  files: [string, string];
  session: string;
  startGps: number;
  mean: StaticMean;
  observation: VectorObservation;
}
