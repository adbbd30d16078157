import { panel } from '../../panel';

export default panel({
  title: 'Depth grid',
  what: 'A grid of soundings with count, spread and uncertainty of each cell',
  order: 25,
  operations: ['depths'],
  kinds: ['sonar'],
  component: () => import('./DepthsPage.vue'),
});
