import { about } from '../format/about';

export default about({
  name: 'well-known text of a coordinate system, 1 or 2',
  kind: 'system',
  holds: 'a projected or local coordinate system, or heights',
  extensions: ['wkt', 'prj', 'crs'],
});
