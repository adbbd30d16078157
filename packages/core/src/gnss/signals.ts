/** Speed of light in vacuum, m/s. */
export const LIGHT_MPS = 299792458;
/** WGS 84 rotation rate of the Earth, rad/s (IS-GPS-200, Galileo OS SIS ICD). */
export const EARTH_RATE_RADPS = 7.2921151467e-5;

/** First letter of a satellite's name in RINEX: GPS, Galileo, GLONASS, BeiDou, QZSS, SBAS. */
export type System = 'G' | 'E' | 'R' | 'C' | 'J' | 'S';

/** Carrier frequencies by system and band as RINEX numbers them, MHz. GLONASS has a frequency for each satellite. */
const BANDS_MHZ: Partial<Record<System, Record<string, number>>> = {
  G: { 1: 1575.42, 2: 1227.6, 5: 1176.45 },
  E: { 1: 1575.42, 5: 1176.45, 6: 1278.75, 7: 1207.14, 8: 1191.795 },
  C: { 1: 1575.42, 2: 1561.098, 5: 1176.45, 6: 1268.52, 7: 1207.14, 8: 1191.795 },
  J: { 1: 1575.42, 2: 1227.6, 5: 1176.45 },
  S: { 1: 1575.42, 5: 1176.45 },
};

/** Frequency in Hz of a band, or undefined where there is none. */
export function frequencyHz(system: System, band: string): number | undefined {
  const mhz = BANDS_MHZ[system]?.[band];
  return mhz === undefined ? undefined : mhz * 1e6;
}

/** Bands by order of use: the first is the one clocks and ionosphere refer to. */
export const BAND_ORDER: Partial<Record<System, string[]>> = { G: ['1', '2', '5'], E: ['1', '5', '7'] };
