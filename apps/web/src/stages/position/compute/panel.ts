import { panel } from '../../panel';

export default panel({
  title: 'Compute',
  what: 'Compute a trajectory from GNSS and inertial data',
  order: 20,
  operations: ['position'],
  kinds: ['gnss-observations', 'trajectory'],
  component: () => import('./ComputeTrajectory.vue'),
});
