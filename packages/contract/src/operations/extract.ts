import { parseSelection } from '@longheron/core/cloud';
import { choice, number, operation, own } from '../declare';

export default operation({
  name: 'extract',
  title: 'Make a cloud of a selection',
  past: 'cut out',
  stage: 'clean',
  version: 1,
  result: 'point-cloud',
  resultName: 'Part of a cloud',
  roles: { cloud: { kind: 'point-cloud', label: 'Cloud' } },
  settings: {
    selection: own({ label: 'Selection', reason: 'What goes into the new cloud.', read: parseSelection }),
    thinM: number({
      label: 'Spacing',
      unit: 'm',
      min: 0.01,
      max: 100,
      step: 0.05,
      digits: 2,
      usual: null,
      reason: 'One point to a cube of this edge; all without it.',
    }),
    keep: choice({
      label: 'Of each cube',
      usual: 'precise',
      choices: { first: 'the first point', precise: 'the most precise point' },
      reason: 'By the deviations that the points state.',
    }),
  },
});
