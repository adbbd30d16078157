import { panel } from '../../panel';

export default panel({
  title: 'Marks',
  what: 'Make marks of the stops of a pole',
  order: 40,
  operations: ['stops'],
  kinds: ['trajectory'],
  component: () => import('./StopsPanel.vue'),
});
