import { operation } from '../declare';

export default operation({
  name: 'tested-mounting',
  title: 'Take the tested mounting',
  past: 'tested',
  stage: 'place',
  version: 1,
  result: 'mounting',
  resultName: 'Tested mounting',
  referenceLine: 'none',
  roles: { patch: { kind: 'patch', label: 'Mounting test' } },
  settings: {},
});
