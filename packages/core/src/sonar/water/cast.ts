import { WEEK_S } from '../../time';
import { Problem } from '../../shared/problem';
import { SPEED_MPS } from './soundSpeed';

/** Speed of sound by depth under the waterline, measured at one place and time. */
export interface Cast {
  name: string;
  week: number;
  sow: number;
  /** Where it was taken, radians; NaN where that is not said. */
  latRad: number;
  lonRad: number;
  /** Metres under the waterline, rising. */
  depthM: Float64Array;
  speedMps: Float64Array;
  /** 1 SD of the whole profile, metres a second. */
  sdMps: number;
}

/** Deviation of a cast that does not state its own, m/s: what probes of the trade are sold with. */
export const CAST_SD_MPS = 0.1;

/** A gradient steeper than this over more than a metre is no water's, 1/s. */
const STEEPEST_PER_S = 20;

/**
 * Refuses a cast that can be no profile of water.
 * @throws Problem naming file, cast and depth.
 */
export function checkCast(cast: Cast, file?: string): void {
  const { name, depthM, speedMps } = cast;
  const refuse = (text: string, at: number, remedy: string) =>
    new Problem(text, { code: 'cast', file, place: `cast ${name}, depth ${depthM[at].toFixed(2)} m`, remedy });
  for (let i = 0; i < depthM.length; i++) {
    if (!(speedMps[i] >= SPEED_MPS[0] && speedMps[i] <= SPEED_MPS[1]))
      throw refuse(
        `Sound at ${speedMps[i].toFixed(1)} m/s is not that of water (${SPEED_MPS[0]} to ${SPEED_MPS[1]} m/s).`,
        i,
        'Check the unit of the column and the probe, or leave this cast out.',
      );
    if (i === 0) continue;
    const dz = depthM[i] - depthM[i - 1];
    if (!(dz > 0))
      throw refuse('Depths of a cast must increase.', i, 'Keep the rows of the way down, in order, each depth once.');
    if (dz > 1 && Math.abs(speedMps[i] - speedMps[i - 1]) / dz > STEEPEST_PER_S)
      throw refuse('The speed jumps as no water does.', i, 'Take the row out of the file.');
  }
}

/** Speed at a depth: linear between rows, constant beyond them, m/s. */
export function speedAt({ depthM, speedMps }: Cast, atM: number): number {
  const n = depthM.length;
  if (!(atM > depthM[0])) return speedMps[0];
  if (atM >= depthM[n - 1]) return speedMps[n - 1];
  let k = 1;
  while (depthM[k] < atM) k++;
  const u = (atM - depthM[k - 1]) / (depthM[k] - depthM[k - 1]);
  return speedMps[k - 1] + u * (speedMps[k] - speedMps[k - 1]);
}

export type CastRule = 'time' | 'place';

export const castGpsS = (c: Pick<Cast, 'week' | 'sow'>) => c.week * WEEK_S + c.sow;

/**
 * The cast that a ping uses: nearest in time, or nearest in place.
 * @param gpsS seconds since the beginning of GPS time. @returns index into `casts`.
 */
export function nearestCast(casts: readonly Cast[], rule: CastRule, gpsS: number, latRad: number, lonRad: number) {
  let best = 0;
  let least = Infinity;
  for (let k = 0; k < casts.length; k++) {
    const c = casts[k];
    const far =
      rule === 'time'
        ? Math.abs(castGpsS(c) - gpsS)
        : Math.hypot(c.latRad - latRad, (c.lonRad - lonRad) * Math.cos(latRad));
    if (far < least) {
      least = far;
      best = k;
    }
  }
  return best;
}
