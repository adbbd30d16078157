import { smoothStep } from '../terrain';

/** Level of the water over EGM96 at the beginning of the voyage, metres, and how it rises. */
const LEVEL_M = 0.38;
const RISE_M_PER_S = 0.05 / 600;

/** Level of the water, metres above EGM96. @param t seconds since the voyage began. */
export const waterLevelM = (t: number) => LEVEL_M + RISE_M_PER_S * t;

/** Zero of the gauge's scale over EGM96, metres. */
export const GAUGE_ZERO_M = -0.62;

/** Speed of sound by depth in the morning, and when the ebb has brought warm water over it. */
const [EARLY, LATE] = [
  [
    [0, 1486.2],
    [1.5, 1486.0],
    [4, 1485.1],
    [7, 1484.4],
    [14, 1484.0],
  ],
  [
    [0, 1497.4],
    [1.3, 1496.8],
    [2.2, 1491.5],
    [3.4, 1486.1],
    [7, 1484.6],
    [14, 1484.0],
  ],
];

function profile(rows: number[][], z: number): number {
  if (z <= rows[0][0]) return rows[0][1];
  for (let k = 1; k < rows.length; k++)
    if (z < rows[k][0]) {
      const [a, b] = [rows[k - 1], rows[k]];
      return a[1] + ((b[1] - a[1]) * (z - a[0])) / (b[0] - a[0]);
    }
  return rows[rows.length - 1][1];
}

/** When the water changes, seconds since the voyage began: during the first turn. */
export interface Tide {
  fromS: number;
  toS: number;
}

/** Speed of sound at a depth under the surface, m/s. */
export function trueSpeed(depthM: number, t: number, tide: Tide): number {
  const w = smoothStep((t - tide.fromS) / (tide.toS - tide.fromS));
  return profile(EARLY, depthM) * (1 - w) + profile(LATE, depthM) * w;
}
