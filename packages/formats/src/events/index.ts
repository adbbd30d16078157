import { readFile } from 'node:fs/promises';
import { format } from '../format';
import about from './about';
import { inspectEvents } from './inspect';
import { readEvents } from './read';

export * from './read';

export default format({
  about,
  sniff: (look) =>
    look.has('gps_sow', 'label') && !look.has('lat_deg') && !look.has('gx_radps') ? 'columns' : undefined,
  inspect: inspectEvents,
  open: async (path, name) => readEvents(await readFile(path), name),
});
