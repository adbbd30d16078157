import { about } from '../format/about';

export default about({
  name: 'RINEX 2 and 3, observations',
  kind: 'gnss-observations',
  holds: 'observations of a GNSS receiver',
  extensions: ['obs', 'rnx', 'o', 'gz'],
  packed: true,
});
