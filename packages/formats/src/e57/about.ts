import { about } from '../format/about';

export default about({
  name: 'E57',
  kind: 'point-cloud',
  holds: 'scans with coordinates or ranges',
  extensions: ['e57'],
  loses: 'pictures',
});
