import { readFile } from 'node:fs/promises';
import { WEEK_S } from '@longheron/core/time';
import { type Inspect } from '../format/facts';
import { readOccupations } from './read';

/** Facts of a list of occupations. */
export const inspectOccupations: Inspect = async ({ path, name }, out) => {
  const list = readOccupations(await readFile(path), name);
  out.count = list.length;
  if (list.length === 0) return;
  out.startGps = Math.min(...list.map((o) => o.week * WEEK_S + o.startSow));
  out.endGps = Math.max(...list.map((o) => o.week * WEEK_S + o.endSow));
  out.details.push(['Marks', list.map((o) => o.name).join(', ')]);
  out.details.push(['Shortest', `${Math.min(...list.map((o) => o.endSow - o.startSow)).toFixed(0)} s`]);
};
