import { part, tick, type Watch } from '../shared/progress';
import { Problem } from '../shared/problem';
import { align } from './alignment';
import { withoutMinority } from './believed';
import { ForwardRun, type RunPurpose } from './forwardRun';
import { type InertialData } from './inertialData';
import { type AidingPosition, type InertialSettings } from './settings';
import { type InertialSolution, type Innovation } from './solution';

/** Seconds between nodes of the smoother. */
const NODE_S = 0.1;
/** Contradicting spans of positions are settled in so many rounds. */
const MAX_ROUNDS = 3;

/**
 * Position, velocity and attitude of an inertial unit from its own measurements and positions of its antenna (loosely
 * coupled), forward and smoothed: strapdown mechanisation, error-state filter with 29 states, standstill and
 * no-slip updates, fixed-interval smoothing at 10 Hz.
 * @param stretchNodes nodes of which the smoother's needs are kept at once; the result does not depend on it.
 */
export function navigate(
  data: InertialData,
  positions: AidingPosition[],
  settings: InertialSettings,
  watch?: Watch,
  stretchNodes?: number,
): InertialSolution {
  const purpose = { nodeS: NODE_S, smooth: true, stretchNodes };
  let believed = positions;
  let run = prepared(data, believed, settings, purpose, watch);
  run.go(part(watch, 0.02, 0.45));
  for (let round = 0; round < MAX_ROUNDS; round++) {
    const kept = withoutMinority(believed, run.turns);
    if (kept.length === believed.length) break;
    believed = kept;
    run = prepared(data, believed, settings, purpose, watch);
    run.go(part(watch, 0.02, 0.45));
  }
  return run.smoothed(part(watch, 0.45, 1));
}

/** States of the forward filter alone at samples, ascending, 15 numbers each; zeros outside its run. */
export function filterOnly(
  data: InertialData,
  positions: AidingPosition[],
  settings: InertialSettings,
  samples: ArrayLike<number>,
  watch?: Watch,
): Float64Array {
  const run = prepared(data, positions, settings, { nodeS: NODE_S, samples }, watch);
  run.go(part(watch, 0.02, 1));
  return run.sampled;
}

/** Comparisons of the positions with what the forward filter predicted, none left out. @param nodeS longest step, seconds. */
export function innovationsOf(
  data: InertialData,
  positions: AidingPosition[],
  settings: InertialSettings,
  nodeS: number,
): Innovation[] {
  const run = prepared(data, positions, settings, { nodeS });
  run.go();
  return run.innovations;
}

function prepared(
  data: InertialData,
  positions: AidingPosition[],
  settings: InertialSettings,
  purpose: RunPurpose,
  watch?: Watch,
): ForwardRun {
  const [begin, end] = [data.sow[0], data.sow[data.sow.length - 1]];
  const aiding = positions.filter((a) => a.sow >= begin && a.sow <= end);
  const first = firstSample(data, aiding);
  tick(watch, 0, 'Aligning');
  const alignment = align(data, first, aiding, settings);
  return new ForwardRun(data, first, aiding, settings, alignment, purpose);
}

/** The last sample before the first position, so that the filter starts with one. */
function firstSample(data: InertialData, aiding: AidingPosition[]): number {
  const n = data.sow.length;
  if (aiding.length === 0 || n < 2)
    throw new Problem('Inertial data and positions do not overlap in time.', {
      code: 'inertial-no-overlap',
      place: n ? `inertial data from ${data.sow[0]} to ${data.sow[n - 1]} s of week ${data.week}` : undefined,
      remedy: 'Choose inertial data of the same session.',
    });
  let low = 0;
  while (low + 1 < n && data.sow[low] < aiding[0].sow - 0.5 / data.rateHz) low++;
  return low;
}
