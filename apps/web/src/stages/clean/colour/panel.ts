import { panel } from '../../panel';

export default panel({
  title: 'Colour',
  what: 'Colours from photographs, with edges as proof',
  order: 45,
  operations: ['colour'],
  kinds: ['photo-set'],
  component: () => import('./ColourPanel.vue'),
});
