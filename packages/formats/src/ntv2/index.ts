import { readFile } from 'node:fs/promises';
import { format } from '../format';
import about from './about';
import { inspectNtv2 } from './inspect';
import { isShiftTiff, isTiff, readTiffPlace } from '../tiff';
import { isNtv2, readShifts } from './read';

export * from './read';

/** Grids of shifts between datums. */
export default format({
  about,
  sniff: async (look) =>
    isNtv2(look.head) || (isTiff(look.head) && isShiftTiff(await readTiffPlace(look.source))) ? 'signature' : undefined,
  inspect: inspectNtv2,
  open: async (path, name) => readShifts(await readFile(path), name),
});
