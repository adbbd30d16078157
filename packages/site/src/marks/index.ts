import { type Mark } from '@longheron/core/accuracy';
import { Random } from '@longheron/core/numeric';
import { NOISE, NOISE_FACTOR, type NoiseLevel } from '../drive/noise';
import { SITE_ORIGIN_E, SITE_ORIGIN_N } from '../terrain';
import { DISTURBANCE_M, DISTURBED_MARK, trueMarks } from './targets';

export * from './targets';
export * from './measured';

/** Mark given with easting and northing exchanged, and mark given again with its height in feet. */
export const EXCHANGED_MARK = 'K8';
export const FEET_MARK = 'K2';

/** Marks as the network survey gives them: truth plus noise; the disturbed one is 0.11 m too high. */
export function surveyedMarks(seed: number, level: NoiseLevel = 'medium'): Mark[] {
  const factor = NOISE_FACTOR[level];
  const random = new Random(seed, 'marks');
  const note = { hard: 'painted target, footway or road', grass: 'peg in grass', far: 'peg in field' };
  return trueMarks().map((m) => ({
    name: m.name,
    role: m.role,
    eastingM: m.x + SITE_ORIGIN_E + factor * NOISE.markPlanM * random.normal(),
    northingM: m.y + SITE_ORIGIN_N + factor * NOISE.markPlanM * random.normal(),
    heightM: m.heightM + factor * NOISE.markHeightM * random.normal() + (m.name === DISTURBED_MARK ? DISTURBANCE_M : 0),
    sdEM: NOISE.markPlanM,
    sdNM: NOISE.markPlanM,
    sdHM: NOISE.markHeightM,
    note: note[m.cover],
  }));
}
