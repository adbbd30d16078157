import { type GridName, type HeightCorrection, type PlanSimilarity } from '@longheron/core/frames';
import { type Method } from './methods';

/** The system of latitude and longitude under a projection. */
export interface GeographicWkt {
  name: string;
  datum: string;
  ellipsoid: { name: string; aM: number; rf: number };
  /** Longitude of the prime meridian from Greenwich, degrees. */
  primeDeg: number;
  code?: number;
  /** Way to WGS 84, position vector: metres, arc seconds, parts per million. */
  toWgs84?: number[];
}

/** A projected system as well-known text has it. */
export interface PlanWkt {
  name: string;
  geographic: GeographicWkt;
  method: Method;
  /** By the parameters' keys: degrees, metres, factors. */
  values: { readonly [key: string]: number };
  unit: { name: string; metres: number };
  code?: number;
  /** A local system on top: its name and how it lies in the projection. */
  site?: { name: string; similarity: PlanSimilarity };
}

/** A height system as well-known text has it. */
export interface HeightsWkt {
  name: string;
  /** What heights are counted from before a correction: the ellipsoid, a system of the list, a geoid grid. */
  base: 'ellipsoid' | number | GridName;
  unit: { name: string; metres: number };
  /** Depths, positive down; else heights, positive up. */
  depths: boolean;
  correction?: HeightCorrection;
}

/** What a text says; one of the two at least. */
export interface SystemWkt {
  name: string;
  plan?: PlanWkt;
  heights?: HeightsWkt;
}
