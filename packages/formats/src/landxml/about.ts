import { about } from '../format/about';

export default about({
  name: 'LandXML 1.2',
  holds: 'triangles of a surface',
  extensions: ['xml'],
  written: 'surfaces of triangles',
});
