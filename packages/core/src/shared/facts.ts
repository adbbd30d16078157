/** Where the points of a file lie. */
export interface Extent {
  min: [number, number, number];
  max: [number, number, number];
  /** System of the numbers: `geographic` (degrees, longitude first) or an EPSG label, or null when undefined. */
  crs: string | null;
}

/** What one file is. Times are GPS seconds since 1980-01-06. */
export interface FileFacts {
  name: string;
  bytes: number;
  kind: string;
  startGps: number | null;
  endGps: number | null;
  extent: Extent | null;
  count: number;
  rateHz: number | null;
  gaps: Array<{ startGps: number; endGps: number; lengthS: number }>;
  /** Short facts to show, in order. */
  details: Array<[string, string]>;
}
