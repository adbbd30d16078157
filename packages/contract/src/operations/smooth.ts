import { SMOOTH_DEFAULTS } from '@longheron/core/cloud';
import { number, operation } from '../declare';

export default operation({
  name: 'smooth',
  title: 'Smooth surfaces',
  past: 'smoothed',
  stage: 'clean',
  version: 1,
  result: 'point-cloud',
  resultName: 'Smoothed cloud',
  roles: { cloud: { kind: 'point-cloud', label: 'Cloud', flag: 'in' } },
  settings: {
    radiusM: number({
      label: 'Neighbours within',
      flag: 'radius',
      unit: 'm',
      min: 0.02,
      max: 5,
      step: 0.05,
      usual: SMOOTH_DEFAULTS.radiusM,
      reason: 'Larger takes more noise out, and rounds finer steps.',
    }),
    thickM: number({
      label: 'Thickness of a surface',
      flag: 'thick',
      unit: 'm',
      min: 0.001,
      max: 1,
      step: 0.005,
      digits: 3,
      usual: SMOOTH_DEFAULTS.thickM,
      reason: '1 SD across it, at most: about twice the noise of the points.',
    }),
    mostM: number({
      label: 'Moved at most by',
      flag: 'most',
      unit: 'm',
      min: 0.001,
      max: 1,
      step: 0.01,
      digits: 3,
      usual: SMOOTH_DEFAULTS.mostM,
      reason: 'What stands off farther is something else, and stays.',
    }),
  },
  command: {
    name: 'smooth',
    what: 'a cloud with the noise of its surfaces taken out',
    files: { out: { file: 'cloud', must: true, reason: 'LAS; wires, poles, leaves and edges stay.' } },
    example: 'npx longheron smooth --in classified.las --out smooth.las --radius 0.3',
  },
});
