import { panel } from '../../panel';

export default panel({
  title: 'Classes',
  what: 'Compare classes with a reference',
  order: 50,
  operations: ['class-check'],
  kinds: ['class-check', 'point-cloud'],
  component: () => import('./ClassesPage.vue'),
});
