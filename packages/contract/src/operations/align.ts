import { choice, flag, list, number, operation, text } from '../declare';

const place = (label: string) =>
  number({ label, reason: 'Of the point in the cloud.', unit: '', min: -1e12, max: 1e12, usual: 0 });

export default operation({
  name: 'align',
  title: 'Place a cloud by marks',
  past: 'placed by marks',
  stage: 'clean',
  version: 1,
  result: 'point-cloud',
  resultName: 'Placed cloud',
  roles: {
    cloud: { kind: 'point-cloud', label: 'Cloud' },
    marks: { kind: 'marks', label: 'Marks', several: true },
  },
  settings: {
    pairs: list({
      label: 'Points',
      least: 2,
      most: 200,
      fewer: 'It takes three points, or two of a cloud that is level.',
      reason: 'Points of the cloud and the marks that they are.',
      of: {
        mark: text({ label: 'Mark', reason: 'Which one the point is.', least: 1, most: 60, usual: '' }),
        x: place('x'),
        y: place('y'),
        z: place('z'),
      },
    }),
    scale: choice({
      label: 'Lengths',
      usual: 'plan',
      choices: { one: 'stay', plan: 'are shortened as the plan is', free: 'follow the points' },
      reason: 'A scanner measures true lengths; those of the plan differ by its scale.',
    }),
    level: flag({ label: 'It is level', usual: false, reason: 'It turns about the plumb line only.' }),
  },
});
