import { about } from '../format/about';

export default about({
  name: 'targets seen in scans, CSV',
  kind: 'scan-targets',
  holds: 'places of spheres, discs and corners in the frames of scanners',
  extensions: ['csv'],
});
