import { type Watch } from '@longheron/core/shared';

export * from './inspect';

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
  /** Batches in file order; each is valid until the next. */
  batches(watch?: Watch): AsyncGenerator<PointBatch>;
  close(): Promise<void>;
}

export const NO_FIELDS: PointSource['fields'] = {
  intensity: false,
  colour: false,
  classification: false,
  returns: false,
  time: false,
  source: false,
};

/** A batch with columns for these fields. */
export function allocateBatch(count: number, fields: PointSource['fields']): PointBatch {
  const short = () => new Uint16Array(count);
  return {
    count,
    x: new Float64Array(count),
    y: new Float64Array(count),
    z: new Float64Array(count),
    intensity: fields.intensity ? short() : undefined,
    colour: fields.colour ? [short(), short(), short()] : undefined,
    classification: fields.classification ? new Uint8Array(count) : undefined,
    returnNumber: fields.returns ? new Uint8Array(count) : undefined,
    returnCount: fields.returns ? new Uint8Array(count) : undefined,
    time: fields.time ? new Float64Array(count) : undefined,
    source: fields.source ? short() : undefined,
  };
}

/** A value as a whole number of 16 bits, `top` being full. */
export const to16 = (value: number, top: number) => {
  const v = Math.round((value / top) * 65535);
  return v > 0 ? (v > 65535 ? 65535 : v) : 0;
};

/** Which column, from 0, holds what. */
export interface PointColumns {
  x: number;
  y: number;
  z: number;
  intensity?: number;
  red?: number;
  green?: number;
  blue?: number;
  classification?: number;
  returnNumber?: number;
  returnCount?: number;
  time?: number;
  source?: number;
}

export type PointColumn = keyof PointColumns;
