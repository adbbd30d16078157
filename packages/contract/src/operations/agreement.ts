import { AGREEMENT_DEFAULTS } from '@longheron/core/accuracy';
import { flag, number, operation } from '../declare';

export default operation({
  name: 'agreement',
  title: 'Compare overlapping strips',
  past: 'compared',
  stage: 'prove',
  version: 1,
  result: 'agreement',
  resultName: 'Strip agreement',
  roles: { cloud: { kind: 'point-cloud', label: 'Cloud', flag: 'cloud' } },
  settings: {
    cellM: number({
      ...{ label: 'Cell', flag: 'cell', unit: 'm', min: 0.1, max: 50, step: 0.25, digits: 2 },
      ...{ usual: AGREEMENT_DEFAULTS.cellM, reason: 'The surface is taken as flat within it.' },
    }),
    fewest: number({
      ...{ label: 'Fewest points', flag: 'fewest', unit: '', min: 4, max: 1000, whole: true, step: 1 },
      ...{ usual: AGREEMENT_DEFAULTS.fewest, reason: 'Of each strip in a cell.' },
    }),
    roughestM: number({
      ...{ label: 'Roughest surface', flag: 'roughest', unit: 'm', min: 0.001, max: 1, step: 0.005, digits: 3 },
      ...{ usual: AGREEMENT_DEFAULTS.roughestM },
      reason: 'Cells that scatter by more about their plane are left out: grass, edges.',
    }),
    apartM: number({
      ...{ label: 'Two surfaces beyond', flag: 'apart', unit: 'm', min: 0.01, max: 10, step: 0.05, digits: 2 },
      ...{ usual: AGREEMENT_DEFAULTS.apartM, reason: 'A deck and the road below it are no disagreement.' },
    }),
    groundOnly: flag({
      ...{ label: 'Ground points only', flag: 'ground-only', usual: false },
      reason: 'Leaves everything but class 2 out.',
    }),
  },
  command: {
    name: 'agreement',
    what: 'how overlapping strips agree',
    tolerance: { flag: 'tolerance', reason: 'Largest RMS of a pair of strips, metres; exit code 1 when above.' },
    files: { csv: { file: 'pairs', aside: true, reason: 'Pairs of strips as a table.' } },
    example: 'npx longheron agreement --cloud cloud.las --cell 1 --tolerance 0.03',
  },
  chapter: 30,
});
