import { readFile } from 'node:fs/promises';
import { format } from '../format';
import about from './about';
import { inspectMarks } from './inspect';
import { readMarks } from './read';

export * from './read';

const named = (columns: readonly string[], name: string) => columns.some((c) => c.startsWith(name));

/** Lists of marks whose columns can be told by their names. */
export default format({
  about,
  sniff: ({ columns }) =>
    named(columns, 'easting') &&
    named(columns, 'northing') &&
    // points written by name have what no list of marks has
    !(columns.includes('intensity') && columns.includes('classification'))
      ? 'columns'
      : undefined,
  inspect: inspectMarks,
  open: async (path, name) => readMarks(await readFile(path), name),
});
