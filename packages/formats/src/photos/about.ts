import { about } from '../format/about';

export default about({
  name: 'photographs, CSV',
  kind: 'photos',
  holds: 'names of photographs and when they were taken',
  extensions: ['csv'],
});
