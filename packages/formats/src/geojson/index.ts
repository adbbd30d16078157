import { readFile } from 'node:fs/promises';
import { format } from '../format';
import about from './about';
import { inspectOutlines } from './inspect';
import { readOutlines } from './read';

export * from './read';
export * from './write';

const TYPE = /"type"\s*:\s*"(FeatureCollection|Feature|GeometryCollection|(Multi)?(Polygon|LineString))"/;

/** Areas and lines. */
export default format({
  about,
  sniff: (look) =>
    /^\s*\{/.test(look.text) && TYPE.test(look.text) && !/"sensors"\s*:/.test(look.text) ? 'words' : undefined,
  inspect: inspectOutlines,
  open: async (path, name) => readOutlines(await readFile(path), name),
});
