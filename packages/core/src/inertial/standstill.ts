import { type InertialData } from './inertialData';
import { type AidingPosition } from './settings';

const WINDOW_S = 1;
/** An antenna that moves less than this over a window stands still, metres. */
const MAX_MOVE_M = 0.012;
/** Unrest of the unit, against that of spans known to be still, up to which a window without satellites is still. */
const MAX_UNREST = 1.5;
const MIN_KNOWN = 5;

/**
 * Which whole seconds, counted from the first sample's, the platform stood still: shown by fixed positions, or, where
 * there are none, by a unit as quiet as it was in spans that positions showed to be still.
 */
export function standstills(data: InertialData, aiding: AidingPosition[]): Uint8Array {
  const start = Math.floor(data.sow[0]);
  const count = Math.max(0, Math.ceil(data.sow[data.sow.length - 1]) - start);
  const still = new Uint8Array(count);
  const seen = new Uint8Array(count);
  let from = 0;
  for (let k = 0; k < count; k++) {
    const [t0, t1] = [start + k, start + k + WINDOW_S];
    while (from < aiding.length && aiding[from].sow < t0 - 0.01) from++;
    let to = from;
    while (to + 1 < aiding.length && aiding[to + 1].sow <= t1 + 0.01) to++;
    const [a, b] = [aiding[from], aiding[to]];
    if (!a || a.sow > t1 || b.sow - a.sow < 0.7 || a.solution !== 'fixed' || b.solution !== 'fixed') continue;
    seen[k] = 1;
    still[k] = Math.hypot(b.xyzM[0] - a.xyzM[0], b.xyzM[1] - a.xyzM[1], b.xyzM[2] - a.xyzM[2]) < MAX_MOVE_M ? 1 : 0;
  }
  const unrest = unrestBySecond(data, start, count);
  // how restless the unit is in seconds that positions show to be still
  const known: number[][] = [[], []];
  for (let k = 0; k < count; k++) if (still[k]) for (const s of [0, 1]) known[s].push(unrest[s][k]);
  if (known[0].length < MIN_KNOWN) return still.fill(0);
  const usual = known.map((v) => v.sort((x, y) => x - y)[v.length >> 1]);
  for (let k = 0; k < count; k++) {
    const quiet = unrest[0][k] < MAX_UNREST * usual[0] && unrest[1][k] < MAX_UNREST * usual[1];
    still[k] = quiet && (still[k] || !seen[k]) ? 1 : 0;
  }
  return still;
}

/** RMS of the gyros about their mean, and of the accelerometers, by second. */
function unrestBySecond(data: InertialData, start: number, count: number): [Float64Array, Float64Array] {
  const of = (values: Float64Array) => {
    const out = new Float64Array(count).fill(Infinity);
    const mean = [0, 0, 0];
    let i = 0;
    for (let k = 0; k < count; k++) {
      const from = i;
      while (i < data.sow.length && data.sow[i] <= start + k + 1) i++;
      if (i - from < data.rateHz / 2) continue;
      let squares = 0;
      for (let a = 0; a < 3; a++) {
        let s = 0;
        for (let j = from; j < i; j++) s += values[3 * j + a];
        mean[a] = s / (i - from);
        for (let j = from; j < i; j++) squares += (values[3 * j + a] - mean[a]) ** 2;
      }
      out[k] = Math.sqrt(squares / (i - from));
    }
    return out;
  };
  return [of(data.gyroRadps), of(data.accelMps2)];
}
