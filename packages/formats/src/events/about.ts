import { about } from '../format/about';

export default about({
  name: 'events, CSV',
  kind: 'events',
  holds: 'times of triggered events',
  extensions: ['csv'],
  written: 'positions of events',
});
