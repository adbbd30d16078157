import { about } from '../format/about';

export default about({
  name: 'table, CSV',
  kind: 'table',
  holds: 'marks; you say what each column holds',
  extensions: ['csv', 'txt'],
});
