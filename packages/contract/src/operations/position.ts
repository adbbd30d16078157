import { type InternationalFrame, type Plate } from '@longheron/core/frames';
import { choice, flag, number, operation, text, values, type Given } from '../declare';

const SYSTEMS = { GE: 'GPS and Galileo', G: 'GPS alone', E: 'Galileo alone' } as const;
/** Frames that coordinates of a base may be in, as they are called. */
export const FRAMES = {
  ETRS89: 'ETRS89, or the frame of the result',
  ITRF2020: 'ITRF2020, IGS20',
  ITRF2014: 'ITRF2014, IGS14',
  ITRF2008: 'ITRF2008, IGS08',
  ITRF2005: 'ITRF2005',
  ITRF2000: 'ITRF2000',
  WGS84: 'WGS 84 of its day',
} as const satisfies Record<'ETRS89' | InternationalFrame, string>;
export type BaseFrame = keyof typeof FRAMES;
export const isBaseFrame = (name: unknown): name is BaseFrame => typeof name === 'string' && name in FRAMES;
/** Frames that a trajectory is computed in, by the code of their geographic system. */
export const RESULT_FRAMES = {
  'EPSG:4937': 'ETRS89',
  'EPSG:9989': 'ITRF2020 of the day',
  'EPSG:7912': 'ITRF2014 of the day',
  'EPSG:6319': 'NAD83(2011)',
  'EPSG:7843': 'GDA2020',
} as const;
export type ResultFrame = keyof typeof RESULT_FRAMES;
export const isResultFrame = (code: unknown): code is ResultFrame => typeof code === 'string' && code in RESULT_FRAMES;
export const PLATES = {
  unknown: 'not said',
  Eurasia: 'Eurasia',
  'North America': 'North America',
  'South America': 'South America',
  Nubia: 'Africa (Nubia)',
  Somalia: 'East Africa (Somalia)',
  Arabia: 'Arabia',
  India: 'India',
  Australia: 'Australia',
  Pacific: 'Pacific',
  Nazca: 'Nazca',
  Antarctica: 'Antarctica',
} as const satisfies Record<'unknown' | Plate, string>;
const GRADES = {
  told: 'as its own data tell',
  navigation: 'navigation: gyros to 0.01 °/h',
  intermediate: 'intermediate: 0.1 °/h',
  tactical: 'tactical: 1 to 10 °/h',
  industrial: 'industrial: 10 to 100 °/h',
  consumer: 'consumer: more than 100 °/h',
} as const;
const gps = (label: string) =>
  number({ label, reason: 'GPS seconds; the whole session without it.', unit: 's', min: 0, max: 1e11, usual: null });
const sow = (label: string, name: string) =>
  number({
    label,
    flag: name,
    reason: 'Seconds of the GPS week.',
    unit: 's',
    min: 0,
    max: 1e7,
    usual: null,
    shown: () => false,
  });

/** Seconds of the week, or whole GPS seconds: one of the two. */
const twice = (s: Given) =>
  (s.startGps !== undefined && s.startSow !== undefined) || (s.endGps !== undefined && s.endSow !== undefined);

export type PlateName = keyof typeof PLATES;
export const isPlate = (name: unknown): name is PlateName => typeof name === 'string' && name in PLATES;

export default operation({
  name: 'position',
  title: 'Compute the trajectory',
  past: 'computed',
  stage: 'position',
  version: 5,
  result: 'trajectory',
  resultName: 'Trajectory',
  referenceLine: 'none',
  roles: {
    rover: {
      kind: 'gnss-observations',
      label: 'Rover, the receiver that moves',
      several: true,
      flag: 'rover',
      reason: 'RINEX 2.11 or 3.0x, also gzip-compressed; following files of one receiver are joined.',
    },
    base: {
      kind: 'gnss-observations',
      label: 'Base, the receiver at rest',
      several: true,
      flag: 'base',
    },
    navigation: {
      kind: 'gnss-navigation',
      label: 'Navigation',
      several: true,
      flag: 'nav',
      none: 'none',
      reason: 'Broadcast navigation; GPS and Galileo are used.',
    },
    orbits: {
      kind: 'gnss-orbits',
      label: 'Precise orbits',
      several: true,
      none: 'none',
      flag: 'sp3',
      reason: 'Used instead of the broadcast ones.',
    },
    calibrations: {
      kind: 'gnss-antennas',
      label: 'Antenna calibrations',
      several: true,
      none: 'none',
      flag: 'antex',
      reason: 'Of the antennas that the headers name, and of satellites.',
    },
    baseMarks: { kind: 'marks', label: 'Marks, one of which is the base', none: 'none' },
    inertial: {
      kind: 'inertial',
      label: 'Inertial data of the rover',
      none: "none: the antenna's positions alone",
      flag: 'imu',
      reason: 'HDF5 or CSV; the result is smoothed, with attitude.',
    },
    antenna: {
      kind: 'mounting',
      label: 'Mounting, with the lever arm to the antenna',
      none: 'none',
      flag: 'mount',
    },
  },
  settings: {
    maskDeg: number({
      label: 'Lowest elevation',
      flag: 'mask',
      unit: '°',
      min: 0,
      max: 60,
      step: 1,
      digits: 0,
      usual: 10,
      reason: 'Lower satellites steady the height but bring more noise and multipath.',
    }),
    direction: choice({
      label: 'Direction',
      flag: 'direction',
      usual: 'both',
      choices: { both: 'forward and reverse', forward: 'forward alone', reverse: 'reverse alone' },
      reason: 'Both together are better than each, and check each other.',
    }),
    systems: choice({
      label: 'Systems',
      flag: 'systems',
      usual: 'GE',
      choices: SYSTEMS,
      reason: 'More satellites fix sooner and hold in narrow places.',
    }),
    frequencies: choice({
      label: 'Frequencies',
      usual: 'both',
      switches: { 'one-band': 'first' },
      choices: { both: 'both bands', first: 'the first band alone: often float' },
      reason: 'Two bands see slips and the ionosphere.',
    }),
    leftOut: values({
      label: 'Satellites to leave out',
      flag: 'leave-out',
      least: 0,
      most: 100,
      of: text({
        label: 'Satellites to leave out',
        reason: '',
        most: 3,
        pattern: /^[GE]\d\d$/,
        usual: null,
        like: 'G05 or E11',
      }),
      reason: 'Those that residuals or slips speak against.',
    }),
    startGps: gps('Start of the span'),
    endGps: gps('End of the span'),
    startSow: sow('Start of the span', 'start'),
    endSow: sow('End of the span', 'end'),
    baseFrame: choice({
      label: 'Frame of the base',
      flag: 'base-frame',
      usual: 'ETRS89',
      choices: FRAMES,
      reason: 'Coordinates in an international frame are brought to that of the result, ETRS89 unless it says another.',
    }),
    baseEpoch: number({
      label: 'Epoch of the base',
      flag: 'base-epoch',
      unit: '',
      min: 1980,
      max: 2100,
      digits: 2,
      usual: null,
      reason: 'Year with decimals to which the coordinates belong, e.g. 2026.46.',
    }),
    basePlate: choice({
      label: 'Plate of the base',
      flag: 'base-plate',
      usual: 'unknown',
      choices: PLATES,
      reason: 'Carries the base to the day of the survey where the frame of the result moves against the ground.',
    }),
    frame: text({
      label: 'Frame of the result',
      flag: 'frame',
      most: 20,
      usual: null,
      shown: () => false,
      reason: "Of the base's coordinates and of the result, EPSG:4937 without it.",
    }),
    baseMark: text({
      label: 'Mark of the base',
      most: 60,
      usual: null,
      reason: 'Name of the mark that the base stands on, in the list that goes with it.',
    }),
    baseLatDeg: number({
      label: 'Latitude of the base',
      unit: '°',
      min: -90,
      max: 90,
      usual: null,
      reason: 'Of its marker; without all three its header counts.',
    }),
    baseLonDeg: number({
      label: 'Longitude of the base',
      unit: '°',
      min: -360,
      max: 360,
      usual: null,
      reason: 'Of its marker, east positive.',
    }),
    baseHEllM: number({
      label: 'Height of the base',
      unit: 'm',
      min: -500,
      max: 9000,
      digits: 4,
      usual: null,
      reason: 'Of its marker.',
    }),
    baseHeightKind: choice({
      label: 'Height of the base is',
      usual: 'ellipsoidal',
      choices: { ellipsoidal: 'above the ellipsoid', project: 'in the heights of the project' },
      reason: 'A height above the geoid taken for an ellipsoidal one is off by the undulation.',
    }),
    baseXyzM: values({
      label: 'Base, Earth-centred',
      flag: 'base-xyz',
      least: 3,
      most: 3,
      shown: () => false,
      of: number({ label: 'Base, Earth-centred', reason: '', unit: 'm', min: -1e7, max: 1e7, usual: null }),
      reason: 'X,Y,Z of the marker, metres.',
    }),
    baseMean: flag({
      label: 'Base at the mean of its own codes',
      flag: 'base-mean',
      usual: false,
      reason: 'Weak: good to a metre or two.',
    }),
    antennaHeightM: number({
      label: 'Antenna height of the base',
      flag: 'antenna-height',
      unit: 'm',
      min: -10,
      max: 100,
      digits: 4,
      usual: null,
      reason: "Vertical, marker to antenna reference point; the header's without it.",
    }),
    platform: choice({
      label: 'Platform',
      flag: 'platform',
      usual: 'vehicle',
      choices: { vehicle: 'land vehicle', aircraft: 'aircraft', boat: 'boat', tripod: 'tripod' },
      reason: 'What carries the inertial unit, and so how it moves.',
    }),
    grade: choice({
      label: 'Grade of the inertial unit',
      flag: 'grade',
      usual: 'told',
      choices: GRADES,
      reason: 'How noisy its gyros and accelerometers are, and so how far they are believed.',
    }),
    headingDeg: number({
      label: 'True heading at the start',
      flag: 'heading',
      unit: '°',
      min: -360,
      max: 360,
      digits: 2,
      usual: null,
      reason: "Clockwise from true north, of the unit's forward axis; good to about 2°.",
    }),
    leverArmSdM: number({
      label: 'Lever-arm SD',
      flag: 'lever-arm-sd',
      unit: 'm',
      min: 0.0005,
      max: 1,
      digits: 4,
      usual: null,
      reason: 'It is estimated within this, 1 SD; the mounting says it without it.',
    }),
    standstill: flag({
      label: 'It stands still at times: no velocity then',
      flagOff: 'no-standstill',
      usual: null,
      reason: 'Holds the filter where signals are weak; not on boats.',
    }),
    noSlip: flag({
      label: 'Wheels do not slip sideways',
      flagOff: 'wheels-may-slip',
      usual: null,
      reason: 'Holds the filter through outages; on vehicles alone.',
    }),
    reverseCheck: flag({
      label: "The unit's data are run from the end to the beginning as a check",
      usual: true,
      flagOff: 'no-reverse-check',
      reason: 'Costs as much time again.',
      shown: () => false,
    }),
    rateHz: number({
      label: 'Rows a second',
      flag: 'rate',
      unit: 'Hz',
      min: 0.1,
      max: 10000,
      usual: null,
      shown: () => false,
      reason: "With inertial data; the unit's rate without it.",
    }),
  },
  refuse: (s, chosen) =>
    !chosen.navigation && !chosen.orbits
      ? 'Neither navigation nor precise orbits were chosen.'
      : chosen.inertial && !chosen.antenna
        ? 'Inertial data need a mounting with the lever arm to the antenna.'
        : twice(s)
          ? 'A span is given in GPS seconds or in seconds of the week, not in both.'
          : [
                s.baseLatDeg !== undefined && s.baseLatDeg !== null,
                (s.baseXyzM as number[] | undefined)?.length,
                s.baseMean,
              ]
                .map(Boolean)
                .filter(Boolean).length > 1
            ? 'The base has one position: give its coordinates once, or the mean of its codes.'
            : undefined,
  command: {
    name: 'position',
    what: 'GNSS observations of rover and base, and inertial data, to a trajectory',
    joined: {
      'base-llh': {
        settings: ['baseLatDeg', 'baseLonDeg', 'baseHEllM'],
        reason: "LAT,LON,H of the base's marker, degrees and ellipsoidal metres; else its header's position counts.",
      },
    },
    files: {
      out: {
        file: 'trajectory',
        must: true,
        reason: 'Trajectory, CSV: of the inertial reference point, or without inertial data of the antenna.',
      },
    },
    example: `npx longheron position --rover demo/vehicle_20260616_gnss.rnx --base demo/brn1_20260616_gnss.rnx \\
           --nav demo/site_20260616_nav.rnx --antex demo/antennas.atx --imu demo/vehicle_20260616.imu.h5 --mount demo/vehicle_mount.json \\
           --out vehicle.csv`,
  },
});
