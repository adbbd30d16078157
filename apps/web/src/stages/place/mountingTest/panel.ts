import { panel } from '../../panel';

export default panel({
  title: 'Mounting test',
  what: 'Find roll, pitch, heading and latency of an echo sounder from lines that overlap',
  order: 72,
  operations: ['patch', 'tested-mounting'],
  kinds: ['sonar'],
  component: () => import('./MountingTestPage.vue'),
});
