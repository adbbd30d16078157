import { choice, number, operation } from '../declare';

export default operation({
  name: 'plan-check',
  title: 'Check plan at marks',
  past: 'checked',
  stage: 'prove',
  version: 3,
  result: 'plan-check',
  resultName: 'Plan residuals',
  needs: ['usedMarks'],
  roles: {
    cloud: { kind: 'point-cloud', label: 'Cloud', flag: 'cloud' },
    marks: { kind: 'marks', label: 'Marks', several: true, flag: 'marks' },
    measured: {
      ...{ kind: 'measurements', label: 'Taped and levelled', several: true, none: 'none', flag: 'measured' },
      reason: 'Distances and levelled height differences between marks, CSV.',
    },
  },
  settings: {
    target: choice({
      ...{ label: 'At the marks are', flag: 'target', usual: 'two-tone' },
      choices: {
        'two-tone': 'two-tone targets of four quarters',
        sphere: 'spheres',
        corner: 'corners of three planes',
      },
      reason: 'What is looked for in the cloud.',
    }),
    edgeM: number({
      ...{ label: 'Edge of the target', flag: 'edge', unit: 'm', min: 0.1, max: 3, step: 0.1, digits: 2, usual: 0.6 },
      reason: 'The pattern ends there.',
      shown: (s) => s.target === undefined || s.target === 'two-tone',
    }),
    radiusM: number({
      ...{ label: 'Radius of the sphere', flag: 'radius', unit: 'm', min: 0.02, max: 1, step: 0.005, digits: 4 },
      ...{ usual: 0.0725, reason: 'Held fast in the fit.', shown: (s) => s.target === 'sphere' },
    }),
    searchM: number({
      ...{ label: 'Look within', flag: 'search', unit: 'm', min: 0.05, max: 1, step: 0.05, digits: 2, usual: 0.5 },
      reason: 'Of the given place.',
    }),
  },
  command: {
    name: 'plan-check',
    what: 'where the targets of marks lie in a cloud',
    system: { flag: 'crs', reason: 'System of a file that names none.' },
    tolerance: { flag: 'tolerance', reason: 'Largest RMSE of plan, metres; exit code 1 when above.' },
    files: { csv: { file: 'plan', aside: true, reason: 'Residuals as a table.' } },
    example: 'npx longheron plan-check --cloud classified.las --marks demo/marks_network.csv --tolerance 0.03',
  },
  chapter: 20,
});
