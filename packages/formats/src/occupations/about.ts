import { about } from '../format/about';

export default about({
  name: 'occupations, CSV',
  kind: 'occupations',
  holds: 'marks that a receiver stood on, and when',
  extensions: ['csv'],
});
