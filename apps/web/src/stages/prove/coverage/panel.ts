import { panel } from '../../panel';

export default panel({
  title: 'Coverage',
  what: 'Measure density and voids of an area',
  order: 40,
  operations: ['coverage'],
  kinds: ['coverage', 'point-cloud'],
  component: () => import('./CoveragePage.vue'),
});
