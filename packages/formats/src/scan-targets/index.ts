import { readFile } from 'node:fs/promises';
import { format } from '../format';
import about from './about';
import { readScanTargets } from './read';

export * from './read';

export default format({
  about,
  sniff: (look) => (look.has('scan', 'target', 'x_m', 'y_m', 'z_m') ? 'columns' : undefined),
  async inspect({ path, name }, out) {
    const list = readScanTargets(await readFile(path), name);
    out.count = list.length;
    const names = [...new Set(list.map((t) => t.target))];
    out.details.push(['Scans', [...new Set(list.map((t) => t.scan))].join(', ')], ['Targets', names.join(', ')]);
  },
  open: async (path, name) => readScanTargets(await readFile(path), name),
});
