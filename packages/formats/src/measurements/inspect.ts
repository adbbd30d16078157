import { readFile } from 'node:fs/promises';
import { type Inspect } from '../format/facts';
import { readMeasurements } from './read';

/** Facts of distances and height differences measured on site. */
export const inspectMeasurements: Inspect = async ({ path, name }, out) => {
  const list = readMeasurements(await readFile(path), name);
  out.count = list.length;
  const marks = [...new Set(list.flatMap((m) => [m.from, m.to]))];
  out.details.push(
    ['Distances', String(list.filter((m) => m.kind === 'distance').length)],
    ['Height differences', String(list.filter((m) => m.kind === 'height').length)],
    ['Marks', marks.join(', ')],
  );
};
