/** International frames whose coordinates can be brought to ETRS89. */
export const INTERNATIONAL_FRAMES = ['ITRF2020', 'ITRF2014'] as const;
export type InternationalFrame = (typeof INTERNATIONAL_FRAMES)[number];

/**
 * Turn of the Eurasian plate in each frame, milliarcseconds a year about x, y, z: EUREF Technical Note 1 (2024),
 * ITRF2020 to ETRF2020 and ITRF2014 to ETRF2014, whose shifts and scale are nil.
 */
const TURN_MAS_PER_YEAR: Record<InternationalFrame, readonly [number, number, number]> = {
  ITRF2020: [0.086, 0.519, -0.753],
  ITRF2014: [0.085, 0.531, -0.77],
};
const START_YEAR = 1989;
const MAS = Math.PI / 180 / 3600 / 1000;

/**
 * Brings a place from an international frame to ETRS89, of the realisation that goes with it. On the stable part of
 * Eurasia coordinates in ETRS89 stay, while those in international frames move 2 to 3 cm a year.
 * @param epoch year with decimals to which the coordinates belong. @returns Earth-centred metres.
 */
export function toEtrs89(xyzM: ArrayLike<number>, frame: InternationalFrame, epoch: number): Float64Array {
  const [x, y, z] = [xyzM[0], xyzM[1], xyzM[2]];
  const years = epoch - START_YEAR;
  const [a, b, c] = TURN_MAS_PER_YEAR[frame].map((v) => v * MAS * years);
  return Float64Array.of(x - c * y + b * z, y + c * x - a * z, z - b * x + a * y);
}
