import { panel } from '../../panel';

export default panel({
  title: 'Events',
  what: 'Give events and photographs their positions',
  order: 50,
  operations: ['events'],
  kinds: ['events'],
  component: () => import('./EventsPanel.vue'),
});
