/** Ellipsoids and the step between geodetic and Earth-centred coordinates. */
export interface Ellipsoid {
  name: string;
  /** Semi-major axis, metres. */
  a: number;
  /** Flattening. */
  f: number;
}

export const GRS80: Ellipsoid = { name: 'GRS 80', a: 6378137, f: 1 / 298.257222101 };
export const WGS84: Ellipsoid = { name: 'WGS 84', a: 6378137, f: 1 / 298.257223563 };

export const DEG = Math.PI / 180;

/**
 * Geodetic to Earth-centred, Earth-fixed.
 * @param latRad, lonRad radians; @param hM ellipsoidal height, metres.
 * @returns x, y, z in metres written to `out`.
 */
export function geodeticToEcef(
  ellipsoid: Ellipsoid,
  latRad: number,
  lonRad: number,
  hM: number,
  out: Float64Array = new Float64Array(3),
): Float64Array {
  const e2 = ellipsoid.f * (2 - ellipsoid.f);
  const sinLat = Math.sin(latRad);
  const cosLat = Math.cos(latRad);
  const n = ellipsoid.a / Math.sqrt(1 - e2 * sinLat * sinLat);
  out[0] = (n + hM) * cosLat * Math.cos(lonRad);
  out[1] = (n + hM) * cosLat * Math.sin(lonRad);
  out[2] = (n * (1 - e2) + hM) * sinLat;
  return out;
}

/**
 * Earth-centred to geodetic: Bowring's (1976) start in the parametric latitude, iterated to the last bit.
 * Round trip with {@link geodeticToEcef} within 1e-8 m from −10 to +50 km.
 * @returns latitude and longitude in radians, ellipsoidal height in metres, written to `out`.
 */
export function ecefToGeodetic(
  ellipsoid: Ellipsoid,
  x: number,
  y: number,
  z: number,
  out: Float64Array = new Float64Array(3),
): Float64Array {
  const { a, f } = ellipsoid;
  const b = a * (1 - f);
  const e2 = f * (2 - f);
  const ep2 = e2 / (1 - e2);
  const p = Math.hypot(x, y);
  let beta = Math.atan2(a * z, b * p);
  let lat = 0;
  for (let i = 0; i < 4; i++) {
    const sinB = Math.sin(beta);
    const cosB = Math.cos(beta);
    lat = Math.atan2(z + ep2 * b * sinB ** 3, p - e2 * a * cosB ** 3);
    const next = Math.atan2((1 - f) * Math.sin(lat), Math.cos(lat));
    if (Math.abs(next - beta) < 1e-16) break;
    beta = next;
  }
  const sinLat = Math.sin(lat);
  const cosLat = Math.cos(lat);
  const n = a / Math.sqrt(1 - e2 * sinLat * sinLat);
  out[0] = lat;
  out[1] = Math.atan2(y, x);
  out[2] = p * cosLat + z * sinLat - (a * a) / n;
  return out;
}

/** Rotation from Earth-centred axes to local north, east, down at a latitude and longitude; rows are the axes. */
export function ecefToNed(latRad: number, lonRad: number): Float64Array {
  const sl = Math.sin(latRad);
  const cl = Math.cos(latRad);
  const so = Math.sin(lonRad);
  const co = Math.cos(lonRad);
  return Float64Array.of(-sl * co, -sl * so, cl, -so, co, 0, -cl * co, -cl * so, -sl);
}
