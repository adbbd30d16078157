import { readFile } from 'node:fs/promises';
import { format } from '../format';
import about from './about';
import { readPicks } from './read';

export * from './read';

export default format({
  about,
  sniff: (look) => (look.has('image', 'point', 'x_px', 'y_px') ? 'columns' : undefined),
  async inspect({ path, name }, out) {
    const picks = readPicks(await readFile(path), name);
    out.count = picks.length;
    out.details.push(
      ['Photographs', String(new Set(picks.map((p) => p.image)).size)],
      ['Points', String(new Set(picks.map((p) => p.point)).size)],
    );
  },
  open: async (path, name) => readPicks(await readFile(path), name),
});
