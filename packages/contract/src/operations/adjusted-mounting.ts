import { operation } from '../declare';

export default operation({
  name: 'adjusted-mounting',
  title: 'Take the calibrated mounting',
  past: 'calibrated',
  stage: 'place',
  version: 1,
  result: 'mounting',
  resultName: 'Calibrated mounting',
  referenceLine: 'none',
  roles: { adjustment: { kind: 'adjustment', label: 'Strip adjustment' } },
  settings: {},
});
