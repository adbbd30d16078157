import { about } from '../format/about';

export default about({
  name: 'DXF R2000',
  holds: 'contours',
  extensions: ['dxf'],
  written: 'contours',
  loses: 'the coordinate system',
});
