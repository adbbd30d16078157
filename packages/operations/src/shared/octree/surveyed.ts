import { type Density } from './density';

/** What a first pass over a cloud tells. */
export interface Survey {
  min: [number, number, number];
  max: [number, number, number];
  /** First second of the times, GPS seconds, and seconds per step of the stored time. */
  timeOrigin: number;
  timeStepS: number;
  ranges: Record<string, [number, number, number, number]>;
  countsByClass: Record<string, number>;
  density: Density | null;
  /** A bit for each row of the file that it says is withheld, noise aside; null when it says so of none. */
  withheld: Uint8Array | null;
  /** Bits by which colours are shifted to have eight: 8, or 0 where the file has written bytes; null without colours. */
  colourShift: 0 | 8 | null;
}
