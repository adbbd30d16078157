import { readFile } from 'node:fs/promises';
import { format } from '../format';
import about from './about';
import { inspectCasts } from './inspect';
import { readCasts } from './read';

export * from './read';

/** Profiles of the speed of sound. */
export default format({
  about,
  sniff: (look) => (look.columns[0] === 'cast' && look.has('cast', 'depth_m') ? 'columns' : undefined),
  inspect: inspectCasts,
  open: async (path, name) => readCasts(await readFile(path), name),
});
