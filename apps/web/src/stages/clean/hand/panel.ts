import { panel } from '../../panel';

export default panel({
  title: 'By hand',
  what: 'Select points in plan, section and 3D; class, reject, cut out',
  order: 30,
  operations: ['extract'],
  component: () => import('./ByHand.vue'),
});
