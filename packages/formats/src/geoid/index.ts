import { readFile } from 'node:fs/promises';
import { format } from '../format';
import { isGeoidTiff, isTiff, readTiffPlace } from '../tiff';
import about from './about';
import { inspectGeoid } from './inspect';
import { gtxHead, readGeoid } from './read';
import { textGridHead } from './textGrid';

export * from './read';

/** Grids of undulations. */
export default format({
  about,
  sniff: async (look) => {
    if (gtxHead(look.head, look.size)) return 'signature';
    if (textGridHead(new TextDecoder('latin1').decode(look.head.subarray(0, 400)))) return 'words';
    return isTiff(look.head) && isGeoidTiff(await readTiffPlace(look.source)) ? 'signature' : undefined;
  },
  inspect: inspectGeoid,
  open: async (path, name) => readGeoid(await readFile(path), name),
});
