import { operation } from '../declare';

export default operation({
  name: 'adjusted-trajectory',
  title: 'Take the corrected trajectory',
  past: 'corrected',
  stage: 'place',
  version: 1,
  result: 'trajectory',
  resultName: 'Corrected trajectory',
  referenceLine: 'none',
  roles: { adjustment: { kind: 'adjustment', label: 'Strip adjustment' } },
  settings: {},
});
