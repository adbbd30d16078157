import { readFile } from 'node:fs/promises';
import { formatGps } from '@longheron/core/time';
import { type Inspect } from '../format/facts';
import { readOrbits } from './read';

/** Facts of precise orbits. */
export const inspectOrbits: Inspect = async ({ path, name }, out) => {
  const table = readOrbits(await readFile(path), name);
  const n = table.gps.length;
  out.count = n;
  const systems = new Map<string, number>();
  for (const s of table.satellites) systems.set(s[0], (systems.get(s[0]) ?? 0) + 1);
  const stepS = n > 1 ? table.gps[1] - table.gps[0] : 0;
  const clocks = table.clockS.filter((c) => !Number.isNaN(c)).length;
  // orbits serve whatever lies within them: no span for the time lanes
  out.details.push(
    ['From', formatGps(table.gps[0], 'gps', 0)],
    ['To', formatGps(table.gps[n - 1], 'gps', 0)],
    ['Step', `${stepS} s`],
    ['Satellites', [...systems].map(([s, c]) => `${c} ${s}`).join(', ')],
  );
  if (clocks === 0)
    out.findings.push({
      code: 'sp3-clocks',
      severity: 'error',
      file: out.name,
      text: 'The file has no satellite clocks.',
      effect: 'Nothing can be computed with it.',
      remedy: 'Choose orbits with clocks.',
    });
};
