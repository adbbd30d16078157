import { type Notice } from '@longheron/core/shared';
import { WEEK_S } from '@longheron/core/time';
import { type Gap } from '@longheron/core/trajectory';
import { type FileKind } from '@longheron/formats/recognise';

export interface Extent {
  min: [number, number, number];
  max: [number, number, number];
  /** System of the numbers: `geographic` (degrees, longitude first) or an EPSG label, or null when undefined. */
  crs: string | null;
}

/** What one file is. Times are GPS seconds since 1980-01-06. */
export interface FileFacts {
  path: string;
  name: string;
  bytes: number;
  kind: FileKind;
  startGps: number | null;
  endGps: number | null;
  extent: Extent | null;
  count: number;
  rateHz: number | null;
  gaps: Array<{ startGps: number; endGps: number; lengthS: number }>;
  findings: Notice[];
  /** Short facts to show, in order. */
  details: Array<[string, string]>;
}

/** Facts of a file before anything is known of it. */
export function emptyFacts(path: string, name: string, bytes: number, kind: FileKind): FileFacts {
  return {
    path,
    name,
    bytes,
    kind,
    startGps: null,
    endGps: null,
    extent: null,
    count: 0,
    rateHz: null,
    gaps: [],
    findings: [],
    details: [],
  };
}

/** Gaps in seconds of a week as GPS seconds. */
export function toGaps(gaps: Gap[], week: number): FileFacts['gaps'] {
  return gaps.map((g) => ({
    startGps: week * WEEK_S + g.startSow,
    endGps: week * WEEK_S + g.endSow,
    lengthS: g.lengthS,
  }));
}
