import { about } from '../format/about';

export default about({
  name: 'terrestrial job, LandXML 1.2',
  kind: 'terrestrial-job',
  holds: 'set-ups and readings of a total station, with scans and pictures by name; alone or packed with them (ZIP)',
  extensions: ['xml', 'zip'],
});
