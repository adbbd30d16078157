import { panel } from '../../panel';

export default panel({
  title: 'Ground',
  what: 'Find strays, ground and what stands on it',
  order: 10,
  operations: ['classify'],
  component: () => import('./GroundPanel.vue'),
});
