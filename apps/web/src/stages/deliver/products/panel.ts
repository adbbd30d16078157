import { panel } from '../../panel';

export default panel({
  title: 'Products',
  what: 'Terrain model, contours, points to files, report',
  order: 10,
  operations: ['surface', 'export-cloud', 'report'],
  component: () => import('./DeliverPage.vue'),
});
