import { ecefToGeodetic, geodeticToEcef, type ReferenceSystem } from '@longheron/core/frames';

/** Distance at which the surroundings are looked at, metres. */
const STEP_M = 90;

/**
 * The surroundings of a place: easting, northing and height of points given in metres north, east and down of it, to the
 * second order. `c` holds ten coefficients for each of the three: value, n, e, d, n², e², d², n·e, n·d, e·d.
 */
export interface Nearby {
  c: Float64Array;
  /** Rows: north, east and down of the place in Earth-centred axes. */
  axes: Float64Array;
}

/**
 * Looks at 13 pairs of points around a place through the exact chain of straight lines in Earth-centred space, ellipsoid,
 * projection and geoid. Mixed terms come from the diagonal alone (seven points), not from four corners.
 */
export function nearby(system: ReferenceSystem, latRad: number, lonRad: number, hM: number): Nearby {
  const here = geodeticToEcef(system.ellipsoid, latRad, lonRad, hM);
  const [sinLat, cosLat, sinLon, cosLon] = [Math.sin(latRad), Math.cos(latRad), Math.sin(lonRad), Math.cos(lonRad)];
  const north = [-sinLat * cosLon, -sinLat * sinLon, cosLat];
  const east = [-sinLon, cosLon, 0];
  const down = [-cosLat * cosLon, -cosLat * sinLon, -sinLat];
  const ways = [north, east, down];
  const look = (steps: number[]): Float64Array => {
    const p = [0, 1, 2].map((k) => here[k] + STEP_M * (steps[0] * north[k] + steps[1] * east[k] + steps[2] * down[k]));
    const out = new Float64Array(3);
    ecefToGeodetic(system.ellipsoid, p[0], p[1], p[2], out);
    system.project(out[0], out[1], out[2], out);
    return out;
  };
  const along = (...axes: number[]) => [0, 1, 2].map((k) => (axes.includes(k) ? 1 : 0));
  const both = (steps: number[]) => [look(steps), look(steps.map((s) => -s))];
  const middle = look([0, 0, 0]);
  const single = [0, 1, 2].map((k) => both(along(k)));
  const diagonal = [both(along(0, 1)), both(along(0, 2)), both(along(1, 2))];
  const c = new Float64Array(30);
  for (let k = 0; k < 3; k++) {
    const bend = single.map(([ahead, behind]) => ahead[k] + behind[k] - 2 * middle[k]);
    c[10 * k] = middle[k];
    single.forEach(([ahead, behind], i) => {
      c[10 * k + 1 + i] = (ahead[k] - behind[k]) / (2 * STEP_M);
      c[10 * k + 4 + i] = bend[i] / (2 * STEP_M ** 2);
    });
    const pairs = [
      [0, 1],
      [0, 2],
      [1, 2],
    ];
    diagonal.forEach(([ahead, behind], m) => {
      const [i, j] = pairs[m];
      c[10 * k + 7 + m] = (ahead[k] + behind[k] - 2 * middle[k] - bend[i] - bend[j]) / (2 * STEP_M ** 2);
    });
  }
  return { c, axes: Float64Array.from(ways.flat()) };
}
