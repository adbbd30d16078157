import { format } from '../format';
import about from './about';
import { inspectRaster } from './inspect';
import { isGeoidTiff, isShiftTiff, isTiff, readTiffPlace, type TiffPlace } from './place';

export * from './place';
export * from './raster';
export * from './shifts';

const isPicture = (place: TiffPlace) => !isGeoidTiff(place) && !isShiftTiff(place);

/** Georeferenced images: orthophotos, pictures of intensity, grids of heights. */
export default format({
  about,
  sniff: async (look) => (isTiff(look.head) && isPicture(await readTiffPlace(look.source)) ? 'signature' : undefined),
  inspect: inspectRaster,
});
