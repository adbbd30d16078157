import { panel } from '../../panel';

export default panel({
  title: 'Ground',
  what: 'Find noise points, ground and objects',
  order: 10,
  operations: ['classify'],
  component: () => import('./GroundPanel.vue'),
});
