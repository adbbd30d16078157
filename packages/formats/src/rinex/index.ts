import { readFile } from 'node:fs/promises';
import { format } from '../format';
import about from './about';
import { inspectObservations } from './inspect';
import { rinexContent } from './lines';
import { readObservations } from './observation';

export { readObservations };

/** Observations of a GNSS receiver, RINEX 2.11 and 3.0x. */
export default format({
  about,
  sniff: (look) => (rinexContent(look.text) === 'observations' ? 'signature' : undefined),
  inspect: inspectObservations,
  open: async (path, name) => readObservations(await readFile(path), name),
});
