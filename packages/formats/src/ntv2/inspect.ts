import { readFile } from 'node:fs/promises';
import { type ShiftPart } from '@longheron/core/frames';
import { type Inspect } from '../format/facts';
import { readShifts } from './read';

/** Facts of a grid of datum shifts. */
export const inspectNtv2: Inspect = async ({ path, name }, out) => {
  const { from, to, parts } = readShifts(await readFile(path), name);
  const reach = (low: (p: ShiftPart) => number, high: (p: ShiftPart) => number) =>
    `${Math.min(...parts.map(low)).toFixed(4)}° to ${Math.max(...parts.map(high)).toFixed(4)}°`;
  const finest = parts.reduce((a, b) => (a.stepLatDeg < b.stepLatDeg ? a : b));
  out.count = parts.reduce((n, p) => n + p.rows * p.columns, 0);
  out.details.push(
    ['From', from],
    ['To', to],
    ['Grids', String(parts.length)],
    [
      'Latitude',
      reach(
        (p) => p.southDeg,
        (p) => p.southDeg + (p.rows - 1) * p.stepLatDeg,
      ),
    ],
    [
      'Longitude',
      reach(
        (p) => p.westDeg,
        (p) => p.westDeg + (p.columns - 1) * p.stepLonDeg,
      ),
    ],
    ['Finest step', `${(60 * finest.stepLatDeg).toFixed(2)}′ by ${(60 * finest.stepLonDeg).toFixed(2)}′`],
  );
};
