import { about } from '../format/about';

export default about({
  name: 'geoid grid, GTX or GeoTIFF',
  kind: 'geoid',
  holds: 'heights of a geoid',
  extensions: ['gtx', 'tif'],
});
