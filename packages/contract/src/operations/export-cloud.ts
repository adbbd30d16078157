import { choice, flag, number, operation, text, values, type Given } from '../declare';
import { isPointFormat, POINT_FORMAT_CHOICES, pointFormat } from '../formats';
import { SYSTEM, SYSTEM_LIKE } from './reproject';

const tiles = (s: Given) => s.split === 'tiles';

const PIECES = Object.keys(POINT_FORMAT_CHOICES).filter((name) => isPointFormat(name) && pointFormat(name).pieces);

const PIECE_WORDS = PIECES.map((name) => name.toUpperCase()).join(' or ');
const pieces = (s: Given) => PIECES.includes(String(s.format ?? 'las'));

export default operation({
  name: 'export-cloud',
  title: 'Write points to a file',
  past: 'written',
  stage: 'deliver',
  version: 2,
  result: 'export',
  resultName: 'Points to a file',
  roles: { cloud: { kind: 'point-cloud', label: 'Cloud' } },
  settings: {
    classes: values({
      label: 'Classes (none chosen: all)',
      least: 0,
      most: 256,
      reason: '',
      of: number({ label: 'Class', reason: '', unit: '', min: 0, max: 255, whole: true, usual: null }),
    }),
    strips: values({
      label: 'Strips (none chosen: all)',
      least: 0,
      most: 65536,
      reason: '',
      of: number({ label: 'Strip', reason: '', unit: '', min: 0, max: 65535, whole: true, usual: null }),
    }),
    withRejected: flag({ label: 'With rejected points', usual: false, reason: 'They carry the flag withheld.' }),
    format: choice({
      label: 'Format',
      usual: 'las',
      reason: 'What it does not carry is said.',
      choices: POINT_FORMAT_CHOICES,
    }),
    split: choice({
      label: 'Files',
      usual: 'one',
      shown: pieces,
      reason: `Strips and tiles are written as ${PIECE_WORDS}.`,
      choices: { one: 'one file', strips: 'a file for each strip', tiles: 'square tiles under a cap of points' },
    }),
    system: text({
      label: 'In another coordinate system',
      most: 180,
      pattern: SYSTEM,
      like: SYSTEM_LIKE,
      usual: null,
      reason: "The project's without it.",
    }),
    tileM: number({
      label: 'Edge of the tiles',
      unit: 'm',
      min: 1,
      max: 100000,
      step: 50,
      usual: 100,
      shown: tiles,
      reason: 'Tiles begin at whole multiples of it.',
    }),
    bufferM: number({
      label: 'Buffer around each',
      unit: 'm',
      min: 0,
      max: 1000,
      step: 1,
      usual: 0,
      shown: tiles,
      reason: 'Points of the neighbours within it come along, their user data set to 1.',
    }),
    capPoints: number({
      label: 'Most points in a tile',
      unit: 'points',
      min: 1000,
      max: 1e9,
      whole: true,
      step: 500000,
      usual: 5_000_000,
      shown: tiles,
      reason: 'A tile with more is quartered until it keeps the cap.',
    }),
  },
  refuse: (s) =>
    (s.split ?? 'one') === 'one' || pieces(s) ? undefined : `Strips and tiles are written as ${PIECE_WORDS} only.`,
});
