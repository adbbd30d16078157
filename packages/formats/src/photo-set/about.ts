import { about } from '../format/about';

export default about({
  name: 'photographs, ZIP of JPEG files',
  kind: 'photo-set',
  holds: 'photographs themselves',
  extensions: ['zip'],
});
