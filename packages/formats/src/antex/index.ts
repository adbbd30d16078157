import { readFile } from 'node:fs/promises';
import { format } from '../format';
import about from './about';
import { inspectAntennas } from './inspect';
import { readAntennas } from './read';

export * from './read';

/** Calibrations of antennas, absolute ones. */
export default format({
  about,
  sniff: (look) => (/^.{60}ANTEX VERSION \/ SYST/.test(look.text) ? 'signature' : undefined),
  inspect: inspectAntennas,
  open: async (path, name) => readAntennas(await readFile(path), name),
});
