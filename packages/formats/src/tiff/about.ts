import { about } from '../format/about';

export default about({
  name: 'GeoTIFF, pictures',
  kind: 'raster',
  holds: 'a picture with a place',
  extensions: ['tif', 'tiff'],
});
