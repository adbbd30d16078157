import { panel } from '../../panel';

export default panel({
  title: 'Points in photographs',
  what: 'Pick marks and ties, and measure points, lines and areas in photographs',
  order: 35,
  kinds: ['photo-set', 'block'],
  component: () => import('./PointsPage.vue'),
});
