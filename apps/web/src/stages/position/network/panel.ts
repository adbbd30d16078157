import { panel } from '../../panel';

export default panel({
  title: 'Network',
  what: 'Adjust a network of baselines, distances and levelling',
  order: 60,
  operations: ['network'],
  kinds: ['gnss-observations', 'measurements'],
  component: () => import('./NetworkPanel.vue'),
});
