import { format } from '../format';
import { hdf5Names, isHdf5 } from '../hdf5';
import about from './about';
import { inspectInertial } from './inspect';
import { readInertial } from './read';

export * from './read';

/** Inertial data of any unit, in SI units. */
export default format({
  about,
  sniff: async (look) => {
    if (look.has('gps_sow', 'gx_radps') && !look.has('lat_deg')) return 'columns';
    return isHdf5(look) && (await hdf5Names(look, 'gyro', 'accel')) ? 'signature' : undefined;
  },
  inspect: inspectInertial,
  open: readInertial,
});
