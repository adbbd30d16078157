import { about } from '../format/about';

export default about({
  name: 'inertial data, HDF5 or CSV',
  kind: 'inertial',
  holds: 'turn rates and specific forces',
  extensions: ['h5', 'hdf5', 'csv'],
});
