import { readFile } from 'node:fs/promises';
import { format } from '../format';
import about from './about';
import { inspectOrbits } from './inspect';
import { readOrbits } from './read';

export * from './read';

/** Precise orbits and clocks, SP3-a to d. */
export default format({
  about,
  sniff: (look) => (/^#[a-d][PV]\d{4} /.test(look.text) ? 'signature' : undefined),
  inspect: inspectOrbits,
  open: async (path, name) => readOrbits(await readFile(path), name),
});
