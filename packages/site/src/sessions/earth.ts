/** Ellipsoid of GRS 80: half axis, metres, and flattening. */
const A = 6378137;
const F = 1 / 298.257222101;
const E2 = F * (2 - F);

/** Earth-centred metres of latitude, longitude, radians, and ellipsoidal height, metres. */
export function earthCentred(latRad: number, lonRad: number, heightM: number): [number, number, number] {
  const s = Math.sin(latRad);
  const n = A / Math.sqrt(1 - E2 * s * s);
  const flat = (n + heightM) * Math.cos(latRad);
  return [flat * Math.cos(lonRad), flat * Math.sin(lonRad), (n * (1 - E2) + heightM) * s];
}

/** Directions of east, north and up at a place, Earth-centred axes. */
export interface LocalAxes {
  east: [number, number, number];
  north: [number, number, number];
  up: [number, number, number];
}

export function localAxes(latRad: number, lonRad: number): LocalAxes {
  const [sb, cb, sl, cl] = [Math.sin(latRad), Math.cos(latRad), Math.sin(lonRad), Math.cos(lonRad)];
  return { east: [-sl, cl, 0], north: [-sb * cl, -sb * sl, cb], up: [cb * cl, cb * sl, sb] };
}

export const along = (a: ArrayLike<number>, b: ArrayLike<number>) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
