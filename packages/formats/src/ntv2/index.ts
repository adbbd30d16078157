import { readFile } from 'node:fs/promises';
import { format } from '../format';
import about from './about';
import { inspectNtv2 } from './inspect';
import { isNtv2, readNtv2 } from './read';

export * from './read';

/** Grids of shifts between datums. */
export default format({
  about,
  sniff: (look) => (isNtv2(look.head) ? 'signature' : undefined),
  inspect: inspectNtv2,
  open: async (path, name) => readNtv2(await readFile(path), name),
});
