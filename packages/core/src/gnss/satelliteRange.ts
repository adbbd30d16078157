import { type Orbits } from './orbits';
import { EARTH_RATE_RADPS, LIGHT_MPS } from './signals';

/** Distance to a satellite as its signal flew, and what goes with it. */
export interface SatelliteRange {
  rangeM: number;
  /** From the receiver to the satellite, Earth-centred axes of reception. */
  unit: Float64Array;
  /** Satellite clock against GPS time, seconds, with relativity. */
  clockS: number;
  groupDelayS: number;
  groupDelayE5bS?: number;
}

/**
 * Range to a satellite from a place at a time tag. The time of transmission comes from the pseudorange, which needs
 * no receiver clock; the Earth's rotation during the flight is taken out of the satellite's place.
 * @param at receiver, Earth-centred metres. @returns false when no broadcast record is valid.
 */
export function satelliteRange(
  orbits: Orbits,
  satellite: string,
  week: number,
  tagSow: number,
  pseudorangeM: number,
  at: ArrayLike<number>,
  out: SatelliteRange,
): boolean {
  const sent = orbits.sent(satellite, week, tagSow - pseudorangeM / LIGHT_MPS);
  if (!sent) return false;
  const { orbit } = sent;
  let x = 0;
  let y = 0;
  const z = orbit[2] - at[2];
  let range = Math.sqrt((orbit[0] - at[0]) ** 2 + (orbit[1] - at[1]) ** 2 + z * z);
  for (let k = 0; k < 3; k++) {
    const turn = (EARTH_RATE_RADPS * range) / LIGHT_MPS;
    const c = Math.cos(turn);
    const s = Math.sin(turn);
    x = orbit[0] * c + orbit[1] * s - at[0];
    y = orbit[1] * c - orbit[0] * s - at[1];
    range = Math.sqrt(x * x + y * y + z * z);
  }
  out.rangeM = range;
  out.unit[0] = x / range;
  out.unit[1] = y / range;
  out.unit[2] = z / range;
  out.clockS = orbit[3];
  out.groupDelayS = sent.groupDelayS;
  out.groupDelayE5bS = sent.groupDelayE5bS;
  return true;
}

export const emptyRange = (): SatelliteRange => ({ rangeM: 0, unit: new Float64Array(3), clockS: 0, groupDelayS: 0 });
