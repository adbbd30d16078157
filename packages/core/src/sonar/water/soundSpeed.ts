/** What the three equations for the speed of sound in sea water are good for. */
export const TEMPERATURE_C = [-2, 40] as const;
export const SALINITY_PSU = [0, 42] as const;
/** Slower and faster is no water that is surveyed, m/s. */
export const SPEED_MPS = [1380, 1620] as const;

/**
 * Speed of sound in sea water from temperature, salinity and pressure (Chen & Millero 1977, as the UNESCO standard of
 * Fofonoff & Millard 1983 prints it; temperatures of the scale IPTS-68). Check: S 40, 40 °C, 10 000 dbar: 1731.995 m/s.
 * @param pressureDbar above that of the air, decibars.
 * @returns metres a second.
 */
export function soundSpeedMps(temperatureC: number, salinityPsu: number, pressureDbar: number): number {
  const t = temperatureC,
    s = salinityPsu,
    p = pressureDbar / 10;
  const d = 1.727e-3 - 7.9836e-6 * p;
  const b = -1.922e-2 - 4.42e-5 * t + (7.3637e-5 + 1.7945e-7 * t) * p;
  const a3 = (-3.389e-13 * t + 6.649e-12) * t + 1.1e-10;
  const a2 = ((7.988e-12 * t - 1.6002e-10) * t + 9.1041e-9) * t - 3.9064e-7;
  const a1 = (((-2.0122e-10 * t + 1.0507e-8) * t - 6.4885e-8) * t - 1.258e-5) * t + 9.4742e-5;
  const a0 = (((-3.21e-8 * t + 2.006e-6) * t + 7.164e-5) * t - 1.262e-2) * t + 1.389;
  const a = ((a3 * p + a2) * p + a1) * p + a0;
  const c3 = (-2.3643e-12 * t + 3.8504e-10) * t - 9.7729e-9;
  const c2 = (((1.0405e-12 * t - 2.5335e-10) * t + 2.5974e-8) * t - 1.7107e-6) * t + 3.126e-5;
  const c1 = (((-6.1185e-10 * t + 1.3621e-7) * t - 8.1788e-6) * t + 6.8982e-4) * t + 0.153563;
  const c0 = ((((3.1464e-9 * t - 1.478e-6) * t + 3.342e-4) * t - 5.80852e-2) * t + 5.03711) * t + 1402.388;
  const c = ((c3 * p + c2) * p + c1) * p + c0;
  return c + (a + b * Math.sqrt(Math.abs(s)) + d * s) * s;
}

/**
 * The same by depth (Mackenzie 1981), good to 0.1 m/s between 2 and 30 °C, 25 and 40 psu. Check: 25 °C, 35 psu, 1000 m:
 * 1550.744 m/s. It stands beside {@link soundSpeedMps} as a control.
 */
export function soundSpeedByDepthMps(temperatureC: number, salinityPsu: number, depthM: number): number {
  const t = temperatureC,
    s = salinityPsu - 35,
    z = depthM;
  return (
    1448.96 +
    t * (4.591 + t * (-5.304e-2 + t * 2.374e-4)) +
    s * (1.34 - 1.025e-2 * t) +
    z * (1.63e-2 + z * (1.675e-7 - 7.139e-13 * t * z))
  );
}

/**
 * Pressure at a depth (inverse of Saunders 1981, whose coefficients include those of gravity). Check: 7321.45 m at 30°
 * latitude is 7500.004 dbar.
 * @returns decibars above the air's.
 */
export function pressureDbar(depthM: number, latitudeRad: number): number {
  const x = Math.sin(latitudeRad) ** 2;
  const c1 = (5.92 + 5.25 * x) * 1e-3;
  const c2 = 2.21e-6;
  return (1 - c1 - Math.sqrt((1 - c1) ** 2 - 4 * c2 * depthM)) / (2 * c2);
}
