import { operation } from '../declare';

export default operation({
  name: 'class-check',
  title: 'Compare classes with a reference',
  past: 'compared',
  stage: 'prove',
  version: 1,
  result: 'class-check',
  resultName: 'Classes against a reference',
  needs: ['classNames'],
  tolerance: 'classes',
  roles: {
    cloud: { kind: 'point-cloud', label: 'Cloud', flag: 'cloud' },
    against: {
      kind: 'point-cloud',
      label: 'Reference',
      none: 'none',
      flag: 'against',
      reason: 'A cloud of the same points.',
    },
    outlines: {
      kind: 'outlines',
      label: 'Areas of known class',
      none: 'none',
      flag: 'areas',
      reason: 'GeoJSON, each area with the number of its class.',
    },
  },
  settings: {},
  refuse: (_s, chosen) =>
    !chosen.against === !chosen.outlines
      ? 'The reference is a cloud of the same points, or areas whose class is known: one of them.'
      : undefined,
  command: {
    name: 'class-check',
    what: 'classes against a reference',
    system: { flag: 'crs', reason: 'System of the cloud, for areas in another one.' },
    tolerance: { flag: 'agree', reason: 'Smallest share that agrees, per cent; exit code 1 when below.' },
    files: { csv: { file: 'classes', aside: true, reason: 'Confusion table.' } },
    example: 'npx longheron class-check --cloud classified.las --against reference.las',
  },
  chapter: 50,
});
