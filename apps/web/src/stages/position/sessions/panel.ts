import { panel } from '../../panel';

export default panel({
  title: 'Sessions',
  what: 'Compute every session of a receiver, and join sessions',
  order: 30,
  operations: ['join'],
  kinds: ['gnss-observations'],
  component: () => import('./SessionsPanel.vue'),
});
