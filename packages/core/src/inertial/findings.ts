import { type Notice } from '../shared/problem';
import { findGaps, type Gap } from '../trajectory/trajectory';
import { type InertialData } from './inertialData';

const STANDARD_GRAVITY_MPS2 = 9.80665;
/** No platform here turns faster, rad/s. */
const FASTEST_RADPS = 12;
/** Longer gaps end a computation; shorter ones are bridged. */
export const LONGEST_BRIDGED_S = 1;

export interface InertialFacts {
  gaps: Gap[];
  /** Mean size of the specific force, m/s². */
  meanForceMps2: number;
  fastestRadps: number;
  findings: Notice[];
}

/** What inertial data show of themselves: gaps, units, axes, rate. */
export function inspectInertialData(data: InertialData, file?: string): InertialFacts {
  const n = data.sow.length;
  const gaps = findGaps(data.sow, 1.5, 0);
  let force = 0;
  let down = 0;
  let fastestRadps = 0;
  for (let i = 0; i < n; i++) {
    const [x, y, z] = [data.accelMps2[3 * i], data.accelMps2[3 * i + 1], data.accelMps2[3 * i + 2]];
    force += Math.sqrt(x * x + y * y + z * z);
    down += z;
    for (let k = 3 * i; k < 3 * i + 3; k++) fastestRadps = Math.max(fastestRadps, Math.abs(data.gyroRadps[k]));
  }
  const meanForceMps2 = force / Math.max(1, n);
  const findings: Notice[] = [];
  const add = (
    severity: Notice['severity'],
    code: string,
    text: string,
    effect: string,
    remedy: string,
    place?: string,
  ) => findings.push({ severity, code, text, effect, remedy, place, file });
  if (meanForceMps2 < 0.9 * STANDARD_GRAVITY_MPS2 || meanForceMps2 > 1.1 * STANDARD_GRAVITY_MPS2)
    add(
      'error',
      'inertial-force-unit',
      `The specific force is ${meanForceMps2.toFixed(3)} on average; gravity alone is 9.8 m/s².`,
      Math.abs(meanForceMps2 - 1) < 0.1
        ? 'It seems to be in units of g.'
        : 'The unit is not m/s², or the data are not whole.',
      'Export the data in m/s².',
      'specific force',
    );
  else if (down / n > 0.5 * STANDARD_GRAVITY_MPS2)
    add(
      'warning',
      'inertial-axes',
      'The unit feels gravity upwards: at rest and level its z axis must show -9.8 m/s².',
      'Either z points up, or gravity is given instead of specific force.',
      'Export with axes forward, right, down, or enter how the unit is turned in the vehicle.',
      'specific force, z',
    );
  if (fastestRadps > FASTEST_RADPS)
    add(
      'error',
      'inertial-rate-unit',
      `Angular rates reach ${fastestRadps.toFixed(1)} rad/s.`,
      'They seem to be in degrees.',
      'Export the data in rad/s.',
      'angular rate',
    );
  if (gaps.length) {
    const longest = gaps.reduce((a, b) => (b.lengthS > a.lengthS ? b : a));
    add(
      'warning',
      'inertial-gap',
      `${gaps.length} ${gaps.length === 1 ? 'gap' : 'gaps'}, the longest ${longest.lengthS.toFixed(3)} s.`,
      longest.lengthS > LONGEST_BRIDGED_S
        ? 'The unit cannot be followed over gaps of more than a second.'
        : 'They are bridged; precision suffers there and is stated accordingly.',
      'See on the time lanes whether they lie in the working part.',
      `second of week ${longest.startSow.toFixed(3)}`,
    );
  }
  return { gaps, meanForceMps2, fastestRadps, findings };
}
