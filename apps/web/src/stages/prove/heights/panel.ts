import { panel } from '../../panel';

export default panel({
  title: 'Heights',
  what: 'Check heights against marks',
  order: 10,
  operations: ['check', 'correct'],
  component: () => import('./HeightsPage.vue'),
});
