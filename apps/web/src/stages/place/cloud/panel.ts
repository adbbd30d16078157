import { panel } from '../../panel';

export default panel({
  title: 'Cloud',
  what: 'Make the cloud from trajectory, returns and mounting',
  order: 10,
  operations: ['place'],
  component: () => import('./PlacePage.vue'),
});
