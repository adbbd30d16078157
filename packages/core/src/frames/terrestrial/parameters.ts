/**
 * Transformations between terrestrial reference frames, as their makers publish them: seven parameters and their rates,
 * in the position vector convention. Turns of the coordinate frame convention are written with the other sign.
 */

/** Frames that are known here. ETRF are the realisations of ETRS89. */
export const TERRESTRIAL_FRAMES = [
  'ITRF2020',
  'ITRF2014',
  'ITRF2008',
  'ITRF2005',
  'ITRF2000',
  'ETRF2020',
  'ETRF2014',
  'ETRF2000',
  'NAD83(2011)',
  'GDA2020',
] as const;
export type TerrestrialFrame = (typeof TERRESTRIAL_FRAMES)[number];

export type Three = readonly [number, number, number];

/** One published transformation: value at `epoch` and yearly rate of shift, turn and scale. */
export interface FrameStep {
  from: TerrestrialFrame;
  to: TerrestrialFrame;
  epoch: number;
  shiftMm: Three;
  turnMas: Three;
  scalePpb: number;
  shiftMmPerYear: Three;
  turnMasPerYear: Three;
  scalePpbPerYear: number;
  source: string;
}

const NIL: Three = [0, 0, 0];
const minus = ([a, b, c]: Three): Three => [-a, -b, -c];

export const FRAME_STEPS: readonly FrameStep[] = [
  {
    from: 'ITRF2014',
    to: 'ITRF2020',
    epoch: 2015,
    shiftMm: [1.4, 0.9, -1.4],
    turnMas: NIL,
    scalePpb: 0.42,
    shiftMmPerYear: [0, 0.1, -0.2],
    turnMasPerYear: NIL,
    scalePpbPerYear: 0,
    source: 'ITRF2020 (Altamimi and others 2023), EPSG 9991',
  },
  {
    from: 'ITRF2008',
    to: 'ITRF2014',
    epoch: 2010,
    shiftMm: [-1.6, -1.9, -2.4],
    turnMas: NIL,
    scalePpb: 0.02,
    shiftMmPerYear: [0, 0, 0.1],
    turnMasPerYear: NIL,
    scalePpbPerYear: -0.03,
    source: 'ITRF2014 (Altamimi and others 2016), EPSG 7790',
  },
  {
    from: 'ITRF2005',
    to: 'ITRF2014',
    epoch: 2010,
    shiftMm: [-2.6, -1.0, 2.3],
    turnMas: NIL,
    scalePpb: -0.92,
    shiftMmPerYear: [-0.3, 0, 0.1],
    turnMasPerYear: NIL,
    scalePpbPerYear: -0.03,
    source: 'ITRF2014 (Altamimi and others 2016), EPSG 8079',
  },
  {
    from: 'ITRF2000',
    to: 'ITRF2014',
    epoch: 2010,
    shiftMm: [-0.7, -1.2, 26.1],
    turnMas: NIL,
    scalePpb: -2.12,
    shiftMmPerYear: [-0.1, -0.1, 1.9],
    turnMasPerYear: NIL,
    scalePpbPerYear: -0.11,
    source: 'ITRF2014 (Altamimi and others 2016), EPSG 8078',
  },
  {
    from: 'ITRF2020',
    to: 'ETRF2020',
    epoch: 1989,
    shiftMm: NIL,
    turnMas: NIL,
    scalePpb: 0,
    shiftMmPerYear: NIL,
    turnMasPerYear: [0.086, 0.519, -0.753],
    scalePpbPerYear: 0,
    source: 'EUREF Technical Note 1 (2024)',
  },
  {
    from: 'ITRF2014',
    to: 'ETRF2014',
    epoch: 1989,
    shiftMm: NIL,
    turnMas: NIL,
    scalePpb: 0,
    shiftMmPerYear: NIL,
    turnMasPerYear: [0.085, 0.531, -0.77],
    scalePpbPerYear: 0,
    source: 'EUREF Technical Note 1, EPSG 8366',
  },
  {
    from: 'ITRF2014',
    to: 'ETRF2000',
    epoch: 2010,
    shiftMm: [54.7, 52.2, -74.1],
    turnMas: [1.701, 10.29, -16.632],
    scalePpb: 2.12,
    shiftMmPerYear: [0.1, 0.1, -1.9],
    turnMasPerYear: [0.081, 0.49, -0.792],
    scalePpbPerYear: 0.11,
    source: 'EUREF Technical Note 1, EPSG 8405',
  },
  {
    from: 'ITRF2014',
    to: 'NAD83(2011)',
    epoch: 2010,
    shiftMm: [1005.3, -1909.2, -541.6],
    turnMas: minus([26.7814, -0.4203, 10.9321]),
    scalePpb: 0.37,
    shiftMmPerYear: [0.8, -0.6, -1.4],
    turnMasPerYear: minus([0.0667, -0.7574, -0.0513]),
    scalePpbPerYear: -0.07,
    source: 'National Geodetic Survey, EPSG 8970',
  },
  {
    from: 'ITRF2014',
    to: 'GDA2020',
    epoch: 2020,
    shiftMm: NIL,
    turnMas: NIL,
    scalePpb: 0,
    shiftMmPerYear: NIL,
    turnMasPerYear: minus([1.50379, 1.18346, 1.20716]),
    scalePpbPerYear: 0,
    source: 'ICSM, EPSG 8049',
  },
];

/** Frames that go along with a plate: what stands on its stable part keeps its coordinates. */
export const FIXED_TO_PLATE: Partial<Record<TerrestrialFrame, Plate>> = {
  ETRF2020: 'Eurasia',
  ETRF2014: 'Eurasia',
  ETRF2000: 'Eurasia',
  'NAD83(2011)': 'North America',
  GDA2020: 'Australia',
};

/** Turn of each plate in ITRF2014, milliarcseconds a year: Altamimi and others 2017, table 1. */
export const PLATE_TURNS_MAS_PER_YEAR = {
  Antarctica: [-0.248, -0.324, 0.675],
  Arabia: [1.154, -0.136, 1.444],
  Australia: [1.51, 1.182, 1.215],
  Eurasia: [-0.085, -0.531, 0.77],
  India: [1.154, -0.005, 1.454],
  Nazca: [-0.333, -1.544, 1.623],
  'North America': [0.024, -0.694, -0.063],
  Nubia: [0.099, -0.614, 0.733],
  Pacific: [-0.409, 1.047, -2.169],
  'South America': [-0.27, -0.301, -0.14],
  Somalia: [-0.121, -0.794, 0.884],
} as const satisfies Record<string, Three>;
export type Plate = keyof typeof PLATE_TURNS_MAS_PER_YEAR;
