import { readFile } from 'node:fs/promises';
import { format } from '../format';
import about from './about';
import { inspectMeasurements } from './inspect';
import { readMeasurements } from './read';

export * from './read';

export default format({
  about,
  sniff: (look) => (look.has('from', 'to', 'value_m') && !look.has('use') ? 'columns' : undefined),
  inspect: inspectMeasurements,
  open: async (path, name) => readMeasurements(await readFile(path), name),
});
