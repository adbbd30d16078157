/** Names of satellite systems by their letter in RINEX. */
export const SYSTEM_NAMES: Record<string, string> = {
  G: 'GPS',
  E: 'Galileo',
  R: 'GLONASS',
  C: 'BeiDou',
  J: 'QZSS',
  S: 'SBAS',
};
