import { geodeticToEcef, GRS80, type ReferenceSystem } from '@longheron/core/frames';
import { Random } from '@longheron/core/numeric';
import { type Measurement } from '@longheron/formats/measurements';
import { SITE_ORIGIN_E, SITE_ORIGIN_N } from '../terrain';
import { trueMarks } from './targets';

/** What was taped (steel tape, up to fifty metres) and levelled on site: pairs of marks. */
const TAPED: Array<[string, string]> = [
  ['C4', 'K4'],
  ['K4', 'K5'],
  ['K5', 'K6'],
  ['K6', 'C5'],
  ['C5', 'K7'],
  ['C1', 'K1'],
];
const LEVELLED: Array<[string, string]> = [
  ['BRN1', 'C4'],
  ['C4', 'K4'],
  ['K4', 'K5'],
  ['K5', 'C5'],
];
export const TAPE_SD_M = 0.002;
export const LEVEL_SD_M = 0.001;

/** Distances and height differences between marks, truth with noise. @param baseAt the base's place on the site. */
export function measuredOnSite(
  seed: number,
  system: ReferenceSystem,
  baseAt: { x: number; y: number; heightM: number },
): Measurement[] {
  const random = new Random(seed, 'measured');
  const marks = new Map([...trueMarks(), { name: 'BRN1', ...baseAt }].map((m) => [m.name, m]));
  const geo = new Float64Array(3);
  const place = (name: string) => {
    const m = marks.get(name)!;
    system.unproject(SITE_ORIGIN_E + m.x, SITE_ORIGIN_N + m.y, m.heightM, geo);
    return geodeticToEcef(GRS80, geo[0], geo[1], geo[2]);
  };
  const slope = (a: string, b: string) => {
    const [p, q] = [place(a), place(b)];
    return Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]);
  };
  return [
    ...TAPED.map(([from, to]): Measurement => ({
      from,
      to,
      kind: 'distance',
      sdM: TAPE_SD_M,
      note: 'steel tape',
      valueM: slope(from, to) + TAPE_SD_M * random.normal(),
    })),
    ...LEVELLED.map(([from, to]): Measurement => ({
      from,
      to,
      kind: 'height',
      sdM: LEVEL_SD_M,
      note: 'levelled',
      valueM: marks.get(to)!.heightM - marks.get(from)!.heightM + LEVEL_SD_M * random.normal(),
    })),
  ];
}
