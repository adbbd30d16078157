import { about } from '../format/about';

export default about({
  name: 'marks, CSV',
  kind: 'marks',
  holds: 'marks with coordinates and roles',
  extensions: ['csv', 'txt'],
  written: 'marks',
});
