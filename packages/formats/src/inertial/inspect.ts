import { inspectInertialData } from '@longheron/core/inertial';
import { WEEK_S } from '@longheron/core/time';
import { toGaps, type Inspect } from '../format/facts';
import { readInertial } from './read';

/** Facts and findings of inertial data. */
export const inspectInertial: Inspect = async ({ path, name }, out) => {
  const data = await readInertial(path, name);
  const facts = inspectInertialData(data, name);
  const n = data.sow.length;
  out.count = n;
  out.startGps = data.week * WEEK_S + data.sow[0];
  out.endGps = data.week * WEEK_S + data.sow[n - 1];
  out.rateHz = data.rateHz;
  out.gaps = toGaps(facts.gaps, data.week);
  const expected = Math.round((data.sow[n - 1] - data.sow[0]) * data.rateHz) + 1;
  out.details.push(
    ['Samples', String(n)],
    ['Complete', `${Math.min(100, (100 * n) / expected).toFixed(3)} %`],
    ['Mean specific force', `${facts.meanForceMps2.toFixed(4)} m/s²`],
    ['Fastest turn', `${((facts.fastestRadps * 180) / Math.PI).toFixed(1)} °/s`],
  );
  out.findings.push(...facts.findings);
};
