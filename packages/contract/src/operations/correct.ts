import { choice, operation } from '../declare';

export default operation({
  name: 'correct',
  title: 'Take out the height bias',
  past: 'corrected',
  stage: 'clean',
  version: 2,
  result: 'point-cloud',
  resultName: 'Cloud, bias taken out',
  roles: {
    cloud: { kind: 'point-cloud', label: 'Cloud' },
    check: { kind: 'residuals', label: 'Height check' },
  },
  settings: {
    by: choice({
      label: 'Marks that set the height',
      usual: 'control',
      choices: { control: 'control marks', check: 'check marks' },
      reason: 'Those that are used cannot prove the cloud afterwards.',
    }),
  },
});
