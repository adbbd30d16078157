import { CLOTH_DEFAULTS, GROUND_DEFAULTS, STRAY_DEFAULTS, THING_DEFAULTS } from '@longheron/core/cloud';
import { choice, flag, number, operation, type Given } from '../declare';

const noise = (s: Given) => s.noise !== false;
const ground = (s: Given) => s.ground !== false;
const cloth = (s: Given) => ground(s) && s.method === 'cloth';
const triangles = (s: Given) => ground(s) && s.method !== 'cloth';
const things = (s: Given) => ground(s) && s.things !== false;

export default operation({
  name: 'classify',
  title: 'Find noise and ground',
  past: 'classified',
  stage: 'clean',
  version: 3,
  result: 'point-cloud',
  resultName: 'Classified cloud',
  roles: { cloud: { kind: 'point-cloud', label: 'Cloud', flag: 'in' } },
  settings: {
    ground: flag({ label: 'Find the ground', flag: 'ground', usual: true, reason: 'Class 2.' }),
    noise: flag({
      ...{ label: 'Flag noise points', flag: 'noise', usual: true },
      reason: 'Classes 7 and 18, withheld; nothing is deleted.',
    }),
    method: choice({
      ...{ label: 'How the ground is found', flag: 'method', usual: 'triangles', shown: ground },
      choices: { triangles: 'By triangles', cloth: 'By a cloth' },
      reason:
        'Ground spreads from the lowest points as far as the land goes on, and triangles between them are refined step by step; or a cloth is laid on the cloud from below, stiff enough not to rise into houses.',
    }),
    largestObjectM: number({
      ...{ label: 'Largest thing without ground', flag: 'largest-object', unit: 'm', min: 1, max: 500, step: 1 },
      ...{ usual: GROUND_DEFAULTS.largestObjectM, shown: triangles },
      reason: 'Larger than the largest building or bridge deck; too small and roofs become ground.',
    }),
    steepestDeg: number({
      ...{ label: 'Steepest slope', flag: 'steepest', unit: '°', min: 1, max: 88, step: 1 },
      ...{ usual: GROUND_DEFAULTS.steepestDeg, shown: triangles },
      reason:
        'Steepest true ground over short distances. Raise it for banks that are cut off, lower it when low walls stay.',
    }),
    cellM: number({
      ...{ label: 'Finest cell', flag: 'finest-cell', unit: 'm', min: 0.1, max: 10, step: 0.1 },
      ...{ usual: GROUND_DEFAULTS.cellM, shown: triangles },
      reason: 'One candidate height a cell. Smaller follows more detail and more grass.',
    }),
    withinM: number({
      ...{ label: 'Ground within', flag: 'within', unit: 'm', min: 0, max: 2, step: 0.01, digits: 2 },
      ...{ usual: GROUND_DEFAULTS.withinM, shown: triangles },
      reason:
        'Points this near the final surface are ground. 0: four times the noise of this cloud, 7 to 25 cm; the report says what was taken.',
    }),
    clothCellM: number({
      ...{ label: 'Cell of the cloth', flag: 'cell', unit: 'm', min: 0.1, max: 20, step: 0.1, digits: 2 },
      ...{ usual: CLOTH_DEFAULTS.clothCellM, shown: cloth },
      reason: 'Finer follows more detail, and lets more low things through.',
    }),
    stiffness: number({
      ...{ label: 'Stiffness', flag: 'stiffness', unit: '', min: 1, max: 3, whole: true, step: 1 },
      ...{ usual: CLOTH_DEFAULTS.stiffness, shown: cloth },
      reason: '1 gives way on steep land and spans 12 m, 2 spans 20 m, 3 stays flat under roofs of 50 m.',
    }),
    clothWithinM: number({
      ...{ label: 'Ground within', unit: 'm', min: 0, max: 2, step: 0.01, digits: 2 },
      ...{ usual: CLOTH_DEFAULTS.clothWithinM, shown: cloth },
      reason:
        'Points this near the cloth at rest are ground. 0: five times the noise of this cloud, 10 to 30 cm; the report says what was taken.',
    }),
    neighbours: number({
      ...{ label: 'Neighbours looked at', flag: 'neighbours', unit: '', min: 2, max: 30, whole: true, step: 1 },
      ...{ usual: STRAY_DEFAULTS.neighbours, shown: noise },
      reason: 'Groups of up to this many noise points are found; more costs time.',
    }),
    keepWithinM: number({
      ...{ label: 'Keep within', flag: 'keep-within', unit: 'm', min: 0.05, max: 5, step: 0.1 },
      ...{ usual: STRAY_DEFAULTS.keepWithinM, shown: noise },
      reason: 'Points this close to their neighbours are kept whatever the ratio.',
    }),
    ratio: number({
      ...{ label: 'Spacing ratio', flag: 'ratio', unit: '×', min: 1.5, max: 20, step: 0.5 },
      ...{ usual: STRAY_DEFAULTS.ratio, shown: noise },
      reason:
        "How many times farther a point's neighbours lie than they lie from each other. Judged by local spacing, so that wires and far points stay.",
    }),
    aloneBeyondM: number({
      ...{ label: 'Isolated beyond', flag: 'alone-beyond', unit: 'm', min: 0.5, max: 50, step: 0.5 },
      ...{ usual: STRAY_DEFAULTS.aloneBeyondM, shown: noise },
      reason:
        'With fewer neighbours than asked for within this distance, a point stands alone; where the whole cloud is as thin, it stays when it lies on the surface of those around it.',
    }),
    things: flag({
      ...{ label: 'Class what stands on the ground', flag: 'things', usual: true, shown: ground },
      reason:
        'Buildings, wires, poles and bridge decks by their shape, the rest as vegetation by its height. What a person set by hand to another class stays.',
    }),
    lowM: number({
      ...{ label: 'Low vegetation up to', unit: 'm', min: 0.2, max: 5, step: 0.1, digits: 1 },
      ...{ usual: THING_DEFAULTS.lowM, shown: things },
      reason: 'Above the ground; below 0.15 m it stays unclassified.',
    }),
    mediumM: number({
      ...{ label: 'Medium up to', unit: 'm', min: 0.2, max: 20, step: 0.5, digits: 1 },
      ...{ usual: THING_DEFAULTS.mediumM, shown: things, reason: 'Above that it is high.' },
    }),
    wireM: number({
      ...{ label: 'Wires from', unit: 'm', min: 1, max: 50, step: 0.5, digits: 1 },
      ...{ usual: THING_DEFAULTS.wireM, shown: things },
      reason: 'Lower lines are fences and rails: they stay with the rest.',
    }),
    longM: number({
      ...{ label: 'Walls from', unit: 'm', min: 0.5, max: 50, step: 0.5, digits: 1 },
      ...{ usual: THING_DEFAULTS.longM, shown: things },
      reason: 'Long or high at least: smaller planes are signs and boxes.',
    }),
  },
  refuse: (s) =>
    s.ground === false && s.noise === false ? 'Nothing to do: neither ground nor noise was asked for.' : undefined,
  command: {
    name: 'classify',
    what: 'noise points and ground',
    system: { flag: 'crs', reason: 'System of a file that names none.' },
    files: { out: { file: 'cloud', must: true, reason: 'LAS; everything but classes and flags stays.' } },
    note: 'Without --ground or --noise both are found; what stands on the ground with --things alone.',
    meant: (given) => ({
      things: false,
      ...(given.ground || given.noise || given.things
        ? { ground: !!given.ground || !!given.things, noise: !!given.noise }
        : {}),
      ...given,
      ...(given.method === 'cloth' && given.withinM !== undefined ? { clothWithinM: given.withinM } : {}),
    }),
    example: 'npx longheron classify --in cloud.las --out classified.las --ground --noise',
  },
});
