import { readFile } from 'node:fs/promises';
import { format } from '../format';
import { rinexContent } from '../rinex/lines';
import about from './about';
import { inspectNavigation } from './inspect';
import { readNavigation } from './read';

export * from './read';

/** Broadcast orbits, RINEX 2.11 and 3.0x. */
export default format({
  about,
  sniff: (look) => (rinexContent(look.text) === 'other' ? 'signature' : undefined),
  inspect: inspectNavigation,
  open: async (path, name) => readNavigation(await readFile(path), name),
});
