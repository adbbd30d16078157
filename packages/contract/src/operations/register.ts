import { choice, number, operation } from '../declare';

export default operation({
  name: 'register',
  title: 'Place scans',
  past: 'placed',
  stage: 'place',
  version: 2,
  result: 'point-cloud',
  resultName: 'Cloud of scans',
  roles: {
    scans: {
      kind: 'point-cloud',
      label: 'Scans',
      several: true,
      flag: 'scans',
      reason: 'One file a set-up, in the scanner’s own frame: right-handed, z up, levelled. E57 may hold several.',
    },
    targets: {
      kind: 'scan-targets',
      label: 'Targets seen in them',
      none: 'none',
      flag: 'targets',
      reason: 'Spheres, discs and corners by scan and name, CSV.',
    },
    control: {
      kind: 'marks',
      label: 'Known targets',
      none: 'none',
      flag: 'control',
      reason: 'Marks that bear the names of targets; held within their deviations.',
    },
    stations: {
      kind: 'marks',
      label: 'Stations',
      none: 'none',
      flag: 'stations',
      reason: 'Places of scanners by the names of scans; with azimuth_deg the grid bearing of their y axes.',
    },
    inPlace: {
      kind: 'point-cloud',
      label: 'Cloud in place',
      none: 'none',
      flag: 'to',
      reason: 'A cloud of the project whose surfaces the scans are brought to.',
    },
  },
  settings: {
    by: choice({
      label: 'Placed by',
      flag: 'by',
      choices: {
        auto: 'targets, and surfaces where these are too few',
        targets: 'targets and stations',
        surfaces: 'surfaces and stations',
        both: 'targets, surfaces and stations',
      },
      usual: 'auto',
      reason: 'Surfaces bring scans together from 0.3 m and 3° off.',
    }),
    frames: choice({
      label: 'They are',
      flag: 'frames',
      choices: { scanner: 'scans, each about its scanner', any: 'clouds in any frame, not level' },
      usual: 'scanner',
      reason: 'Clouds of handheld scanners, or from elsewhere, have no scanner in their origin.',
    }),
    sphereRadiusM: number({
      label: 'Look for spheres of radius',
      flag: 'sphere-radius-m',
      unit: 'm',
      min: 0.02,
      max: 0.5,
      step: 0.005,
      digits: 4,
      usual: null,
      reason:
        'Found in the scans, and named by how they lie to each other and to known targets; empty: not looked for.',
    }),
    levelSdDeg: number({
      label: 'Levelled to, 1 SD',
      flag: 'level-sd-deg',
      unit: '°',
      min: 1e-5,
      max: 45,
      step: 0.001,
      digits: 4,
      usual: 0.003,
      reason: 'How upright the scanners stood; 45 when they did not.',
    }),
    azimuthSdDeg: number({
      label: 'Bearings of stations, 1 SD',
      flag: 'azimuth-sd-deg',
      unit: '°',
      min: 1e-5,
      max: 10,
      step: 0.001,
      digits: 4,
      usual: 0.005,
      reason: 'Where stations give azimuth_deg.',
    }),
    rangeSdM: number({
      label: 'Ranges, 1 SD',
      flag: 'range-sd-m',
      unit: 'm',
      min: 1e-4,
      max: 0.2,
      step: 0.001,
      digits: 4,
      usual: 0.004,
      reason: 'For the deviations of points.',
    }),
    angleSdDeg: number({
      label: 'Angles, 1 SD',
      flag: 'angle-sd-deg',
      unit: '°',
      min: 1e-5,
      max: 0.5,
      step: 0.001,
      digits: 4,
      usual: 0.004,
      reason: 'For the deviations of points.',
    }),
    unit: choice({
      label: 'Unit of the scans',
      flag: 'unit',
      choices: { metre: 'metres', foot: 'feet', usSurveyFoot: 'US survey feet', millimetre: 'millimetres' },
      usual: 'metre',
      reason: 'Of their coordinates.',
    }),
  },
  refuse: (s, chosen) =>
    chosen.scans === 0
      ? 'No scan was chosen.'
      : s.by === 'targets' && chosen.inPlace
        ? 'A cloud in place serves by its surfaces: choose surfaces or both.'
        : undefined,
  command: {
    name: 'register',
    what: 'one cloud of scans, placed by targets, surfaces, known marks and stations',
    system: {
      flag: 'crs',
      reason: 'System of marks and stations, e.g. EPSG:25832+5773; without it the first scan’s frame.',
    },
    files: {
      out: { file: 'cloud', must: true, reason: 'Cloud of all scans, LAS or LAZ.' },
      'targets-out': { file: 'targets', reason: 'Spheres found in the scans, CSV.' },
      poses: { file: 'poses', must: true, reason: 'Places and attitudes of the scanners, CSV.' },
    },
    example: `npx longheron register --scans s1.laz,s2.laz --targets targets.csv --control marks.csv --crs EPSG:25832+5773 \\
           --out cloud.laz --poses poses.csv`,
  },
});
