import { type AidingPosition } from '@longheron/core/inertial';
import { gaussMarkov, Random } from '@longheron/core/numeric';
import { type RideStrengths } from './strengths';
import { type Motion } from './unit';
import { STEPS_HZ } from './way';

/** Deviation of float positions, metres, and how long their error lasts, seconds. */
const FLOAT_M = [0.1, 0.8];
const FLOAT_LASTING_S = 120;
/** No gap before this, seconds, so that the unit can be aligned. */
const FIRST_GAP_S = 120;

/** Positions of the antenna with errors that last in part, gaps, and spans in which they are float. */
export function antennaPositions(
  motion: Motion,
  s: RideStrengths,
  seed: number,
  startSow: number,
  seconds: number,
): AidingPosition[] {
  const { antenna } = s;
  const random = new Random(seed, "ride's antenna");
  const spans = (count: number, longestS: number) =>
    Array.from({ length: count }, () => {
      const from = random.between(FIRST_GAP_S, seconds - 30);
      return [from, from + random.between(0.2, 1) * longestS];
    });
  const gaps = spans(antenna.gaps, antenna.longestGapS);
  const floats = spans(antenna.floats, antenna.longestFloatS);
  const within = (list: number[][], t: number) => list.some(([a, b]) => t >= a && t < b);
  const count = Math.floor((seconds - 1) * antenna.rateHz);
  const lasting = [0, 1, 2].map(() => gaussMarkov(random, count, 1 / antenna.rateHz, antenna.lastingS));
  const drifting = [0, 1, 2].map(() => gaussMarkov(random, count, 1 / antenna.rateHz, FLOAT_LASTING_S));
  const out: AidingPosition[] = [];
  for (let k = 1; k < count; k++) {
    const t = k / antenna.rateHz;
    if (within(gaps, t)) continue;
    const isFloat = within(floats, t);
    const share = isFloat ? 0.95 : antenna.lasting;
    const sd = isFloat ? random.between(FLOAT_M[0], FLOAT_M[1]) : antenna.statedM;
    const place = motion.antennaAt(Math.round(t * STEPS_HZ));
    const xyzM = Float64Array.from(motion.originM, (v, i) => v + place[i]);
    const covariance = new Float64Array(9);
    for (let axis = 0; axis < 3; axis++) {
      const stated = sd * (axis === 2 ? antenna.heightTimes : 1);
      const slow = (isFloat ? drifting : lasting)[axis][k];
      const error = antenna.truth * stated * (Math.sqrt(share) * slow + Math.sqrt(1 - share) * random.normal());
      const u = motion.ned.subarray(3 * axis, 3 * axis + 3);
      for (let i = 0; i < 3; i++) {
        xyzM[i] += error * u[i];
        for (let j = 0; j < 3; j++) covariance[3 * i + j] += stated * stated * u[i] * u[j];
      }
    }
    const sow = startSow + t;
    out.push({ sow, xyzM, covariance, solution: isFloat ? 'float' : 'fixed', satellites: 14 });
  }
  return out;
}
