import { number, operation } from '../declare';

export default operation({
  name: 'check',
  title: 'Check heights at marks',
  past: 'checked',
  stage: 'prove',
  version: 3,
  result: 'residuals',
  resultName: 'Height residuals',
  needs: ['usedMarks'],
  roles: {
    cloud: { kind: 'point-cloud', label: 'Cloud', flag: 'cloud' },
    marks: { kind: 'marks', label: 'Marks', several: true, flag: 'marks' },
  },
  settings: {
    class: number({
      label: 'Class of the points',
      flag: 'class',
      unit: '',
      min: 0,
      max: 255,
      whole: true,
      usual: 2,
      reason: 'Those that count: the ground.',
      shown: () => false,
    }),
  },
  command: {
    name: 'check',
    what: 'height residuals at marks',
    system: { flag: 'crs', reason: 'System of a file that names none.' },
    tolerance: { flag: 'tolerance', reason: 'Largest RMSE, metres; exit code 1 when above.' },
    files: { csv: { file: 'residuals', aside: true, reason: 'Residuals as a table.' } },
    example: 'npx longheron check --cloud classified.las --marks demo/marks_network.csv --tolerance 0.03',
  },
  chapter: 10,
});
