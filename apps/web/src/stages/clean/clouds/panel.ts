import { panel } from '../../panel';

export default panel({
  title: 'Clouds',
  what: 'Merge, bring into the system, place by marks, smooth, check tiles',
  order: 50,
  operations: ['merge', 'reproject', 'align', 'smooth', 'delivery'],
  component: () => import('./WholeClouds.vue'),
});
