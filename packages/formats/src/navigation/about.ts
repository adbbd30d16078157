import { about } from '../format/about';

export default about({
  name: 'RINEX 2 and 3, navigation',
  kind: 'gnss-navigation',
  holds: 'broadcast orbits',
  extensions: ['nav', 'rnx', 'n', 'gz'],
  packed: true,
});
