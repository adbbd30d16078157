import { about } from '../format/about';

export default about({
  name: 'known distances, CSV',
  kind: 'distances',
  holds: 'taped distances between points of photographs',
  extensions: ['csv'],
});
