import { readFile } from 'node:fs/promises';
import { format } from '../format';
import about from './about';
import { inspectOccupations } from './inspect';
import { readOccupations } from './read';

export * from './read';

export default format({
  about,
  sniff: (look) => (look.has('start_sow', 'end_sow') ? 'columns' : undefined),
  inspect: inspectOccupations,
  open: async (path, name) => readOccupations(await readFile(path), name),
});
