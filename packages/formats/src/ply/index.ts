import { pointFormat } from '../points/format';
import about from './about';
import { openPly } from './read';
import { writePly } from './write';

export * from './read';
export * from './write';

/** Points of a polygon file; faces are left out. */
export default pointFormat({
  about,
  sniff: (look) => (look.starts('ply\n') || look.starts('ply\r\n') ? 'signature' : undefined),
  points: openPly,
  write: {
    ply: (points, path, watch) => writePly(points, path, 'binary', watch),
    'ply-text': (points, path, watch) => writePly(points, path, 'text', watch),
  },
});
