import { about } from '../format/about';

export default about({
  name: 'geoid grid, GTX, GeoTIFF or text',
  kind: 'geoid',
  holds: 'heights of a geoid',
  extensions: ['gtx', 'tif', 'gri'],
});
