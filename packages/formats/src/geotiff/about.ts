import { about } from '../format/about';

export default about({
  name: 'GeoTIFF 1.1, heights',
  holds: 'a grid of heights',
  extensions: ['tif'],
  written: 'grids of heights',
});
