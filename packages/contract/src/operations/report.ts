import { CHAPTERS, operation } from '../declare';

export default operation({
  name: 'report',
  title: 'Write the report',
  past: 'written',
  stage: 'deliver',
  version: 2,
  result: 'report',
  resultName: 'Report',
  referenceLine: 'whole',
  needs: ['account'],
  roles: {
    surface: { kind: 'surface', label: 'Terrain model' },
    check: { kind: 'residuals', label: 'Height check' },
    parts: { kind: CHAPTERS, label: 'Further proofs', several: true, none: 'left out' },
  },
  onceCalled: { plan: 'parts', strips: 'parts', coverage: 'parts', classes: 'parts' },
  settings: {},
});
