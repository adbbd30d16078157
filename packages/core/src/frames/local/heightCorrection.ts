import { GRS80 } from '../ellipsoid';
import { type Geoid } from '../geoid';

/** What is added to heights of one surface to have those of another: an amount at a place, and slopes from there. */
export interface HeightCorrection {
  lat0Rad: number;
  lon0Rad: number;
  offsetM: number;
  /** Rise to the north and to the east, metres per metre. */
  slopeNorth: number;
  slopeEast: number;
}

const E2 = GRS80.f * (2 - GRS80.f);

/** Metres north and east of the correction's place, by the radii of curvature there (EPSG method 1046). */
export function offsetsFrom(
  { lat0Rad, lon0Rad }: Pick<HeightCorrection, 'lat0Rad' | 'lon0Rad'>,
  latRad: number,
  lonRad: number,
): [northM: number, eastM: number] {
  const w2 = 1 - E2 * Math.sin(lat0Rad) ** 2;
  const meridianM = (GRS80.a * (1 - E2)) / w2 ** 1.5;
  const primeM = GRS80.a / Math.sqrt(w2);
  const turn = Math.PI * 2;
  const lon = lonRad - lon0Rad - turn * Math.round((lonRad - lon0Rad) / turn);
  return [meridianM * (latRad - lat0Rad), primeM * lon * Math.cos(latRad)];
}

/** The correction at a place, metres: EPSG method 1046, vertical offset and slope (Guidance Note 7-2). */
export function correctionAt(c: HeightCorrection, latRad: number, lonRad: number): number {
  const [northM, eastM] = offsetsFrom(c, latRad, lonRad);
  return c.offsetM + c.slopeNorth * northM + c.slopeEast * eastM;
}

/** The surface from which corrected heights count: that of the geoid, lowered by the correction. */
export const correctedGeoid = (geoid: Geoid, c: HeightCorrection, name: string, statement: string): Geoid => ({
  name,
  statement,
  undulation: (latRad, lonRad) => geoid.undulation(latRad, lonRad) - correctionAt(c, latRad, lonRad),
});
