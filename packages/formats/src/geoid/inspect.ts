import { readFile } from 'node:fs/promises';
import { extremes } from '@longheron/core/numeric';
import { type Inspect } from '../format/facts';
import { readGeoid } from './read';

/** Facts of a geoid grid. */
export const inspectGeoid: Inspect = async ({ path, name }, out) => {
  const g = readGeoid(await readFile(path), name);
  const [low, high] = extremes(g.valuesM.filter((v) => !Number.isNaN(v)));
  const north = g.southDeg + (g.rows - 1) * g.stepLatDeg;
  const east = g.westDeg + (g.columns - 1) * g.stepLonDeg;
  out.count = g.rows * g.columns;
  out.details.push(
    ['Latitude', `${g.southDeg.toFixed(4)}° to ${north.toFixed(4)}°`],
    ['Longitude', `${g.westDeg.toFixed(4)}° to ${east.toFixed(4)}°`],
    ['Step', `${(60 * g.stepLatDeg).toFixed(2)}′ by ${(60 * g.stepLonDeg).toFixed(2)}′`],
    ['Undulation', `${low.toFixed(2)} to ${high.toFixed(2)} m`],
  );
};
