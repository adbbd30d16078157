import { type TerrestrialFrame } from './parameters';

/** Realisations of WGS 84, from when they were in force, and the frame each was made to agree with within a centimetre. */
const REALISATIONS: ReadonlyArray<{ name: string; fromYear: number; frame: TerrestrialFrame }> = [
  { name: 'G1150', fromYear: 2002.05, frame: 'ITRF2000' },
  { name: 'G1674', fromYear: 2012.11, frame: 'ITRF2008' },
  { name: 'G1762', fromYear: 2013.79, frame: 'ITRF2008' },
  { name: 'G2139', fromYear: 2021.01, frame: 'ITRF2014' },
  { name: 'G2296', fromYear: 2024.02, frame: 'ITRF2020' },
];

/**
 * The realisation of WGS 84 that broadcast orbits of a day were in, and the frame that it agrees with (NGA, standard
 * 0036). @param epoch year with decimals. @returns undefined before 2002.
 */
export function wgs84At(epoch: number): { name: string; frame: TerrestrialFrame } | undefined {
  return REALISATIONS.filter((r) => r.fromYear <= epoch).at(-1);
}
