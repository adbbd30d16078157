import { panel } from '../../panel';

export default panel({
  title: 'Quality',
  what: 'Judge a trajectory, compare it with another, hand it over',
  order: 10,
  operations: ['handover', 'trajectory-report'],
  component: () => import('./QualitySheet.vue'),
});
