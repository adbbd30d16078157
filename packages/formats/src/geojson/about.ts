import { about } from '../format/about';

export default about({
  name: 'GeoJSON (RFC 7946)',
  kind: 'outlines',
  holds: 'areas and lines',
  extensions: ['geojson', 'json'],
  written: 'contours, tiles',
});
