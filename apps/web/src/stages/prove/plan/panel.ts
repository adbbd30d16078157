import { panel } from '../../panel';

export default panel({
  title: 'Plan',
  what: 'Check plan at targets, and measured distances',
  order: 20,
  operations: ['plan-check'],
  kinds: ['plan-check', 'marks'],
  component: () => import('./PlanPage.vue'),
});
