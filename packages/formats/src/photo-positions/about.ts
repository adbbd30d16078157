import { about } from '../format/about';

export default about({
  name: 'positions of photographs, CSV',
  kind: 'positions',
  holds: 'where photographs were taken',
  extensions: ['csv'],
});
