import { about } from '../format/about';

export default about({
  name: 'water level at a gauge, CSV',
  kind: 'water-level',
  holds: 'levels above a datum by time',
  extensions: ['csv'],
});
