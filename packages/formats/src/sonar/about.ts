import { about } from '../format/about';

export default about({
  name: 'sonar, HDF5',
  kind: 'sonar',
  holds: 'soundings of many beams and side-scan, with navigation and motion',
  extensions: ['h5', 'hdf5'],
});
