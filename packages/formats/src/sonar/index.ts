import { format } from '../format';
import { hdf5Names, isHdf5 } from '../hdf5';
import about from './about';
import { inspectSonar } from './inspect';
import { SonarFile } from './read';

export * from './describe';
export * from './read';
export * from './write';

/** Recordings of echo sounders and side-scan sonars. */
export default format({
  about,
  sniff: async (look) => (isHdf5(look) && (await hdf5Names(look, 'bathy', 'sidescan')) ? 'signature' : undefined),
  inspect: inspectSonar,
  open: (path, name) => SonarFile.open(path, name),
});
