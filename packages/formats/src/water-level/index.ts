import { readFile } from 'node:fs/promises';
import { format } from '../format';
import about from './about';
import { inspectWaterLevel } from './inspect';
import { readWaterLevel } from './read';

export * from './read';

/** Levels of the water at a gauge. */
export default format({
  about,
  sniff: (look) => (look.has('gps_week', 'gps_sow', 'level_m') ? 'columns' : undefined),
  inspect: inspectWaterLevel,
  open: async (path, name) => readWaterLevel(await readFile(path), name),
});
