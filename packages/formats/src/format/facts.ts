import { type MarkContext } from '@longheron/core/accuracy';
import { type FileFacts as KeptFacts, type Notice, type Watch } from '@longheron/core/shared';
import { WEEK_S } from '@longheron/core/time';
import { type Gap } from '@longheron/core/trajectory';

export { type KeptFacts };

/** What one file is, and what was found in it. */
export interface FileFacts extends KeptFacts {
  path: string;
  findings: Notice[];
}

/** A file to be inspected. */
export interface Given {
  path: string;
  /** As the person knows it, for messages. */
  name: string;
  /** What is known already, for marks. */
  known?: MarkContext;
}

/** Fills in facts and findings. @throws Problem when the file is damaged. */
export type Inspect = (file: Given, out: FileFacts, watch?: Watch) => Promise<void>;

/** Notes what is found in a file: code, how grave, what it is, what it does, what to do, and where. */
export type Note = (
  code: string,
  severity: Notice['severity'],
  text: string,
  effect?: string,
  remedy?: string,
  place?: string,
) => void;

export const noteIn =
  ({ findings, name }: FileFacts): Note =>
  (code, severity, text, effect, remedy, place) =>
    void findings.push({ code, severity, text, effect, remedy, place, file: name });

/** Facts without path and findings: as they are kept. */
export function keptFacts({ path: _path, findings: _findings, ...facts }: FileFacts): KeptFacts {
  return facts;
}

/** Facts of a file before anything is known of it. */
export function emptyFacts(path: string, name: string, bytes: number, kind: string): FileFacts {
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
export const fileFacts = (name: string, bytes: number, kind: string): KeptFacts =>
  keptFacts(emptyFacts('', name, bytes, kind));
