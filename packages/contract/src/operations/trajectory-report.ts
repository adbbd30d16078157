import { operation } from '../declare';

export default operation({
  name: 'trajectory-report',
  title: 'Write the report on the trajectory',
  past: 'written',
  stage: 'position',
  version: 1,
  result: 'report',
  resultName: 'Trajectory report',
  referenceLine: 'whole',
  needs: ['account'],
  roles: { trajectory: { kind: 'trajectory', label: 'Trajectory' } },
  settings: {},
});
