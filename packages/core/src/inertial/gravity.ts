import { GRS80 } from '../frames/ellipsoid';

export const EARTH_RATE_RADPS = 7.292115e-5;
const MU = 3.986005e14;
const J2 = 1.08263e-3;
const J4 = -2.370912e-6;

/**
 * Gravity (centrifugal part included) in Earth-centred axes from the zonal terms J2 and J4 of the GRS 80 field (Vallado
 * 2013, 8.6.1; J2 alone is 5 µg off in the north): within 0.1 µg of normal gravity to some kilometres of height.
 * @param x, y, z metres. @returns m/s², written to `out`.
 */
export function gravityEcef(x: number, y: number, z: number, out: Float64Array): Float64Array {
  const r2 = x * x + y * y + z * z;
  const r = Math.sqrt(r2);
  const k = -MU / (r2 * r);
  const j = (1.5 * J2 * GRS80.a * GRS80.a) / r2;
  const z2 = (5 * z * z) / r2;
  const w2 = EARTH_RATE_RADPS * EARTH_RATE_RADPS;
  const q = (-15 / 8) * J4 * (GRS80.a / r) ** 4;
  const t = (z * z) / r2;
  const side = 1 + j * (1 - z2) + q * (1 - 14 * t + 21 * t * t);
  out[0] = k * x * side + w2 * x;
  out[1] = k * y * side + w2 * y;
  out[2] = k * z * (1 + j * (3 - z2) + q * (5 - (70 / 3) * t + 21 * t * t));
  return out;
}
