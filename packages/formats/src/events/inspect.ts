import { readFile } from 'node:fs/promises';
import { median } from '@longheron/core/numeric';
import { WEEK_S } from '@longheron/core/time';
import { type Inspect } from '../format/facts';
import { readEvents } from './read';

/** Facts of an event list. */
export const inspectEvents: Inspect = async ({ path, name }, out) => {
  const events = readEvents(await readFile(path), name);
  const times = events.map((e) => e.week * WEEK_S + e.sow).sort((a, b) => a - b);
  out.count = events.length;
  if (times.length === 0) return;
  [out.startGps, out.endGps] = [times[0], times[times.length - 1]];
  const steps = times.slice(1).map((t, k) => t - times[k]);
  if (steps.length) out.details.push(['Usual step', `${median(steps).toFixed(2)} s`]);
  out.details.push(['With a label', String(events.filter((e) => e.label).length)]);
};
