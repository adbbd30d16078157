import { about } from '../format/about';

export default about({
  name: 'trajectory, CSV',
  kind: 'trajectory',
  holds: 'position, attitude and deviations by time',
  extensions: ['csv'],
  written: 'trajectories',
});
