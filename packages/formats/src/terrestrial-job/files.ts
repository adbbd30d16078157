import { posix } from 'node:path';
import { type JobFile } from '@longheron/core/terrestrial';

/** What a job names against what lies beside it. */
export interface JobTally {
  /** Named and there. */
  found: JobFile[];
  /** Named and not there. */
  missing: JobFile[];
  /** Named beyond the folder of the job: not looked for. */
  outside: JobFile[];
  /** There and not named. */
  unnamed: string[];
}

const SCAN = /\.(e57|las|laz|ply)$/i;
const IMAGE = /\.(jpe?g|png|tiff?)$/i;

/**
 * Holds the names in a job against files that lie with it.
 * @param there their names with folders, from that of the job on, parted by slashes.
 */
export function tallyOf(files: readonly JobFile[], there: readonly string[]): JobTally {
  const out: JobTally = { found: [], missing: [], outside: [], unnamed: [] };
  const by = new Map(there.map((n) => [n.toLowerCase(), n]));
  const named = new Set<string>();
  for (const f of files) {
    const name = posix.normalize(f.location.replace(/\\/g, '/'));
    if (/^([a-z]:|\/)/i.test(name) || name.startsWith('../') || name === '..') {
      out.outside.push(f);
      continue;
    }
    const own = by.get(name.toLowerCase());
    if (own === undefined) out.missing.push(f);
    else {
      named.add(own);
      out.found.push({ ...f, location: own });
    }
  }
  out.unnamed = there.filter((n) => !named.has(n) && (SCAN.test(n) || IMAGE.test(n)));
  return out;
}
