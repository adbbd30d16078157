import { readFile } from 'node:fs/promises';
import { formatGps, WEEK_S } from '@longheron/core/time';
import { type Inspect } from '../format/facts';
import { SYSTEM_NAMES } from '../rinex/systems';
import { readNavigation } from './read';

/** Facts of a broadcast navigation file. */
export const inspectNavigation: Inspect = async ({ path, name }, out) => {
  const nav = readNavigation(await readFile(path), name);
  const times = nav.records.map((r) => r.toeWeek * WEEK_S + r.toeS);
  out.count = Object.values(nav.counts).reduce((a, b) => a + b, 0);
  // orbits hold for hours around their reference: no span for the time lanes
  const [first, last] = [Math.min(...times), Math.max(...times)];
  if (times.length) out.details.push(['References', `${formatGps(first, 'gps', 0)} to ${formatGps(last, 'gps', 0)}`]);
  for (const [s, n] of Object.entries(nav.counts)) {
    const satellites = new Set(nav.records.filter((r) => r.system === s).map((r) => r.satellite)).size;
    out.details.push([
      SYSTEM_NAMES[s] ?? s,
      satellites ? `${n} records, ${satellites} satellites` : `${n} records, not used`,
    ]);
  }
  out.details.push(['Ionosphere', nav.ionosphere ? 'coefficients given' : 'no coefficients']);
  if (nav.records.length === 0)
    out.findings.push({
      code: 'nav-unused',
      severity: 'error',
      file: out.name,
      text: 'The file has no record of GPS or Galileo.',
      effect: 'Nothing can be computed with it.',
      remedy: 'Choose the mixed or the GPS navigation file.',
    });
};
