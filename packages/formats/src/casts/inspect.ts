import { readFile } from 'node:fs/promises';
import { castGpsS } from '@longheron/core/sonar';
import { type Inspect } from '../format/facts';
import { readCasts } from './read';

/** Facts of casts: how many, when, how deep, how fast. */
export const inspectCasts: Inspect = async ({ path, name }, out) => {
  const casts = readCasts(await readFile(path), name);
  const times = casts.map(castGpsS);
  out.count = casts.length;
  out.startGps = Math.min(...times);
  out.endGps = Math.max(...times);
  const all = (of: 'depthM' | 'speedMps') => casts.flatMap((c) => [...c[of]]);
  const lat = casts.map((c) => (c.latRad * 180) / Math.PI);
  const lon = casts.map((c) => (c.lonRad * 180) / Math.PI);
  out.extent = {
    min: [Math.min(...lon), Math.min(...lat), 0],
    max: [Math.max(...lon), Math.max(...lat), 0],
    crs: 'geographic',
  };
  out.details.push(
    ['Casts', casts.map((c) => c.name).join(', ')],
    ['Deepest', `${Math.max(...all('depthM')).toFixed(1)} m`],
    ['Speed', `${Math.min(...all('speedMps')).toFixed(1)} to ${Math.max(...all('speedMps')).toFixed(1)} m/s`],
    ['Deviation', `${casts[0].sdMps} m/s`],
  );
};
