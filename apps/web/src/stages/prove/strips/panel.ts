import { panel } from '../../panel';

export default panel({
  title: 'Strips',
  what: 'Compare overlapping strips',
  order: 30,
  operations: ['agreement'],
  kinds: ['agreement', 'point-cloud'],
  component: () => import('./StripsPage.vue'),
});
