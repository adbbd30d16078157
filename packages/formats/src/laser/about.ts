import { about } from '../format/about';

export default about({
  name: 'laser returns, HDF5',
  kind: 'laser-returns',
  holds: 'ranges and angles by time',
  extensions: ['h5', 'hdf5'],
});
