import { format } from '../format';
import about from './about';
import { inspectCloud } from './inspect';
import { LasFile } from './reader';
import { writeSelected } from './select';

export * from './header';
export * from './points';
export * from './reader';
export * from './writer';
export * from './rewrite';
export * from './select';
export * from './output';
export * from './split';
export * from './fromPoints';
export * from './shift';
export * from './system';
export * from './reproject';
export * from './convertRecord';
export * from './merge';
export * from './moved';
export * from './colour';
export * from './named';

/** Clouds as they are worked on. */
export default format({
  about,
  sniff: (look) => (look.starts('LASF') ? 'signature' : undefined),
  inspect: inspectCloud,
  open: (path, name) => LasFile.openPath(path, name),
  write: {
    las: async ({ file, keep }, path, watch) => ({
      ...(await writeSelected(file, path, keep, watch, false)),
      lost: [],
    }),
    laz: async ({ file, keep }, path, watch) => ({ ...(await writeSelected(file, path, keep, watch, true)), lost: [] }),
  },
});
