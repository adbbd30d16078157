const A = 6378137;
const F = 1 / 298.257222101;
const GAMMA_EQUATOR = 9.7803267715;
const K = 0.001931851353;
const E2 = F * (2 - F);
const M = 0.00344978600308;

/**
 * Normal gravity of GRS 80 by Somigliana's closed formula, carried up by its second-order height formula (Moritz
 * 1980), with the slight lean to the equator above the ellipsoid.
 * @returns north and down components, m/s².
 */
export function gravityNed(latRad: number, hM: number): [number, number] {
  const s2 = Math.sin(latRad) ** 2;
  const surface = (GAMMA_EQUATOR * (1 + K * s2)) / Math.sqrt(1 - E2 * s2);
  const down = surface * (1 - (2 / A) * (1 + F + M - 2 * F * s2) * hM + (3 / (A * A)) * hM * hM);
  return [-8.08e-9 * hM * Math.sin(2 * latRad), down];
}
