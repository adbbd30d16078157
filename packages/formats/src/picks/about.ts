import { about } from '../format/about';

export default about({
  name: 'picks in photographs, CSV',
  kind: 'picks',
  holds: 'where marks and tie points are seen in photographs',
  extensions: ['csv'],
});
