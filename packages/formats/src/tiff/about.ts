import { about } from '../format/about';

export default about({
  name: 'GeoTIFF, pictures',
  kind: 'raster',
  holds: 'a georeferenced image',
  extensions: ['tif', 'tiff'],
});
