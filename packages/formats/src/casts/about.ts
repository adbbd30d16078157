import { about } from '../format/about';

export default about({
  name: 'sound speed casts, CSV',
  kind: 'casts',
  holds: 'speed of sound by depth, cast by cast',
  extensions: ['csv'],
});
