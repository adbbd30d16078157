import { type Extent, type FileFacts as KeptFacts } from '@longheron/contract/kinds';
import { type Notice } from '@longheron/core/shared';
import { WEEK_S } from '@longheron/core/time';
import { type Gap } from '@longheron/core/trajectory';
import { type FileKind } from '@longheron/formats/recognise';

export { type Extent, type KeptFacts };

/** What one file is, and what was found in it. */
export interface FileFacts extends KeptFacts {
  path: string;
  kind: FileKind;
  findings: Notice[];
}

/** Facts without path and findings: as they are kept. */
export function keptFacts({ path: _path, findings: _findings, ...facts }: FileFacts): KeptFacts {
  return facts;
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

/** Facts of a file that was just written and is not inspected. */
export const fileFacts = (name: string, bytes: number, kind: FileKind): KeptFacts =>
  keptFacts(emptyFacts('', name, bytes, kind));
