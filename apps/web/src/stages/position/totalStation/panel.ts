import { panel } from '../../panel';

export default panel({
  title: 'Total station',
  what: 'Adjust a total-station job: faces, traverses, points with their deviations',
  order: 65,
  operations: ['traverse', 'write-job'],
  kinds: ['terrestrial-job'],
  apart: true,
  component: () => import('./TotalStationPage.vue'),
});
