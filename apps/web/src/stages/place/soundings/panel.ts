import { panel } from '../../panel';

export default panel({
  title: 'Soundings',
  what: 'Reduce sonar recordings with trajectory, sound speed and mounting',
  order: 70,
  operations: ['soundings'],
  kinds: ['sonar'],
  component: () => import('./SoundingsPage.vue'),
});
