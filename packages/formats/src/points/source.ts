import { type Watch } from '@longheron/core/shared';

/** Points of one batch in columns; coordinates in the units of the file, NaN where a point has none. */
export interface PointBatch {
  count: number;
  x: Float64Array;
  y: Float64Array;
  z: Float64Array;
  /** 0–65535. */
  intensity?: Uint16Array;
  /** 0–65535 each. */
  colour?: [Uint16Array, Uint16Array, Uint16Array];
  classification?: Uint8Array;
  returnNumber?: Uint8Array;
  returnCount?: Uint8Array;
  /** Seconds as the file counts them; see `adjustedTime`. */
  time?: Float64Array;
  /** Strip, scan or station, from 1. */
  source?: Uint16Array;
}

/** A scan as its file places it: its origin, and what turns its axes into those of the file (nine numbers by rows). */
export interface Stand {
  name: string;
  atM: [number, number, number];
  rotation: number[];
}

/** A cloud in a format that is not LAS, open for reading. */
export interface PointSource {
  name: string;
  /** As declared; undefined when only reading tells. */
  declared?: number;
  fields: {
    intensity: boolean;
    colour: boolean;
    classification: boolean;
    returns: boolean;
    time: boolean;
    source: boolean;
  };
  /** Coordinate system as the file gives it (WKT or an EPSG label). */
  system?: string;
  /** The times are GPS seconds less 1e9. */
  adjustedTime?: boolean;
  /** What the file holds that is not carried over, in words. */
  lost: string[];
  /** Short facts to show. */
  details: [string, string][];
  /** Poses of the scans that the file places, by the numbers of their points' sources, from 1. */
  stands?: Stand[];
  /** Batches in file order, of all or of one source alone where the file has them apart; each is valid until the next. */
  batches(watch?: Watch, only?: number): AsyncGenerator<PointBatch>;
  close(): Promise<void>;
}
