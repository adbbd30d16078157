import { median } from '../numeric/statistics';
import { type Trajectory } from './trajectory';

/** No survey drives or flies farther than this from its middle, degrees of latitude. */
const MAX_REACH_DEG = 5;
const DEG = Math.PI / 180;
const MAX_SAMPLES = 2000;
/** Above the ellipsoid, metres: below the deepest shore and above any survey flight. */
const HEIGHTS_M = [-1000, 30_000] as const;

/**
 * Epochs whose position can be one of the survey: not latitude and longitude zero as unsolved epochs have, not far from
 * the middle of the others, no absurd height. @returns 1 for each that can be.
 */
export function plausibleEpochs({ latRad, lonRad, hEllM }: Trajectory): Uint8Array {
  const n = latRad.length;
  const solved = (i: number) =>
    !(latRad[i] === 0 && lonRad[i] === 0) && hEllM[i] > HEIGHTS_M[0] && hEllM[i] < HEIGHTS_M[1];
  const step = Math.max(1, Math.floor(n / MAX_SAMPLES));
  const samples: number[] = [];
  for (let i = 0; i < n; i += step) if (solved(i)) samples.push(i);
  const turn = 2 * Math.PI;
  const short = (rad: number) => rad - turn * Math.round(rad / turn);
  const out = new Uint8Array(n);
  if (samples.length === 0) return out;
  const first = lonRad[samples[0]];
  const lat = median(samples.map((i) => latRad[i]));
  const lon = first + median(samples.map((i) => short(lonRad[i] - first)));
  const cos = Math.max(0.05, Math.cos(lat));
  for (let i = 0; i < n; i++) {
    if (solved(i) && Math.hypot(latRad[i] - lat, short(lonRad[i] - lon) * cos) < MAX_REACH_DEG * DEG) out[i] = 1;
  }
  return out;
}
