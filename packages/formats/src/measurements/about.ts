import { about } from '../format/about';

export default about({
  name: 'measurements, CSV',
  kind: 'measurements',
  holds: 'distances and height differences between marks',
  extensions: ['csv'],
});
