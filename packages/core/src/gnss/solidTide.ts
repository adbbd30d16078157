import { siderealTimeRad, sunAndMoonM } from './sunMoon';

const EARTH_M = 6378136.6;
/** Mass of Sun and Moon over that of the Earth. */
const SUN_MASS = 332946.0482;
const MOON_MASS = 0.0123000371;
/** Degree 3 Love and Shida numbers. */
const H3 = 0.292;
const L3 = 0.015;
/** The frequency-dependent part that matters most: the radial one of K1 (IERS Conventions 2010, table 7.3a), metres. */
const K1_M = -0.01201;

/**
 * Displacement of a point by the tide of the solid Earth (IERS Conventions 2010, 7.1.1, step 1 of degree 2 and 3 and
 * the largest term of step 2), Earth-fixed metres: good to some millimetres of its 0.4 m.
 * @param at point, Earth-centred metres. @param utcOffsetS leap seconds: GPS less UTC.
 */
export function solidTideM(at: ArrayLike<number>, gpsS: number, utcOffsetS: number): Float64Array {
  const { sun, moon } = sunAndMoonM(gpsS, utcOffsetS);
  return tideOf(at, sun, moon, siderealTimeRad(gpsS, utcOffsetS));
}

/** The same from given places of Sun and Moon, Earth-fixed metres, and Greenwich sidereal time. */
export function tideOf(
  at: ArrayLike<number>,
  sun: ArrayLike<number>,
  moon: ArrayLike<number>,
  siderealRad: number,
): Float64Array {
  const r = Math.hypot(at[0], at[1], at[2]);
  const e = [at[0] / r, at[1] / r, at[2] / r];
  const sinLat = e[2];
  const cosLat = Math.sqrt(1 - sinLat * sinLat);
  const p2 = (3 * sinLat * sinLat - 1) / 2;
  const h2 = 0.6078 - 0.0006 * p2;
  const l2 = 0.0847 + 0.0002 * p2;
  const out = new Float64Array(3);
  for (const [body, mass] of [
    [sun, SUN_MASS],
    [moon, MOON_MASS],
  ] as const) {
    const d = Math.hypot(body[0], body[1], body[2]);
    const b = [body[0] / d, body[1] / d, body[2] / d];
    const c = e[0] * b[0] + e[1] * b[1] + e[2] * b[2];
    const second = mass * EARTH_M * (EARTH_M / d) ** 3;
    const third = second * (EARTH_M / d);
    for (let k = 0; k < 3; k++) {
      const across = b[k] - c * e[k];
      out[k] += second * (h2 * e[k] * (1.5 * c * c - 0.5) + 3 * l2 * c * across);
      out[k] += third * (H3 * e[k] * (2.5 * c * c * c - 1.5 * c) + L3 * (7.5 * c * c - 1.5) * across);
    }
  }
  const east = Math.atan2(e[1], e[0]);
  const radial = K1_M * 2 * sinLat * cosLat * Math.sin(siderealRad + east);
  for (let k = 0; k < 3; k++) out[k] += radial * e[k];
  return out;
}
