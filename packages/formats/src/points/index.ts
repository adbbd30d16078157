import { type PointBatch, type PointSource } from './source';

export * from './inspect';
export * from './source';

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
