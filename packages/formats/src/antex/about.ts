import { about } from '../format/about';

export default about({
  name: 'ANTEX 1.4',
  kind: 'gnss-antennas',
  holds: 'calibrations of antennas',
  extensions: ['atx', 'gz'],
  packed: true,
});
