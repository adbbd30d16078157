import { panel } from '../../panel';

export default panel({
  title: 'Find',
  what: 'Find points by a rule, and act on them',
  order: 20,
  component: () => import('./FindPoints.vue'),
});
