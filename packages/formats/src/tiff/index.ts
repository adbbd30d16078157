import { format } from '../format';
import about from './about';
import { inspectRaster } from './inspect';
import { isGeoidTiff, isTiff, readTiffPlace } from './place';

export * from './place';
export * from './raster';

/** Georeferenced images: orthophotos, pictures of intensity, grids of heights. */
export default format({
  about,
  sniff: async (look) =>
    isTiff(look.head) && !isGeoidTiff(await readTiffPlace(look.source)) ? 'signature' : undefined,
  inspect: inspectRaster,
});
