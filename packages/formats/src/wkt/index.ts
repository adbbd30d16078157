import { readFile } from 'node:fs/promises';
import { isWkt, readSystemWkt } from '../crs/wkt';
import { format } from '../format';
import about from './about';
import { inspectSystem } from './inspect';

/** Coordinate systems of their own, as files. */
export default format({
  about,
  sniff: (look) => (isWkt(look.head) ? 'words' : undefined),
  inspect: inspectSystem,
  open: async (path, name) => readSystemWkt(new TextDecoder().decode(await readFile(path)), name),
});
