import { panel } from '../../panel';

export default panel({
  title: 'Strips',
  what: 'Calibrate the mounting and correct the trajectory so that overlapping strips agree',
  order: 20,
  operations: ['strips', 'adjusted-mounting', 'adjusted-trajectory'],
  component: () => import('./StripsPage.vue'),
});
