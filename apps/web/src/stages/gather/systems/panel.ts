import { panel } from '../../panel';

export default panel({
  title: 'Systems',
  what: 'Local systems, ground systems, own projections, chart datums',
  order: 20,
  operations: ['local-system', 'ground-system', 'own-projection', 'chart-datum'],
  component: () => import('./SystemsPage.vue'),
});
