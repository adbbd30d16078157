import { panel } from '../../panel';

export default panel({
  title: 'Scans',
  what: 'Place scans by targets, surfaces, known marks and stations as one cloud',
  order: 60,
  operations: ['register'],
  kinds: ['scan-targets'],
  component: () => import('./RegisterPage.vue'),
});
