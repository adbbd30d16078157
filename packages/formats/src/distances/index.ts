import { readFile } from 'node:fs/promises';
import { format } from '../format';
import about from './about';
import { readDistances } from './read';

export * from './read';

export default format({
  about,
  sniff: (look) => (look.has('from', 'to', 'use') ? 'columns' : undefined),
  async inspect({ path, name }, out) {
    const list = readDistances(await readFile(path), name);
    out.count = list.length;
    out.details.push(
      ['For the scale', String(list.filter((d) => d.use === 'scale').length)],
      ['As a check', String(list.filter((d) => d.use === 'check').length)],
    );
  },
  open: async (path, name) => readDistances(await readFile(path), name),
});
