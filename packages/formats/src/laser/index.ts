import { format } from '../format';
import { hdf5Names, isHdf5 } from '../hdf5';
import about from './about';
import { inspectLaser } from './inspect';
import { LaserFile } from './read';

export * from './read';

/** Returns of a laser scanner. */
export default format({
  about,
  sniff: async (look) =>
    isHdf5(look) && !(await hdf5Names(look, 'gyro', 'accel', 'bathy', 'sidescan')) ? 'signature' : undefined,
  inspect: inspectLaser,
  open: (path, name) => LaserFile.open(path, name),
});
