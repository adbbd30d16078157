import { about } from '../format/about';

export default about({
  name: 'datum shift grid, NTv2 or GeoTIFF',
  kind: 'datum-grid',
  holds: 'shifts between two geodetic datums',
  extensions: ['gsb', 'tif'],
});
