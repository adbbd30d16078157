import { about } from '../format/about';

export default about({
  name: 'SP3',
  kind: 'gnss-orbits',
  holds: 'precise orbits with clocks',
  extensions: ['sp3', 'gz'],
  packed: true,
});
