import { type PhotographDto } from '@longheron/contract/api';
import { exifOf, openPhotoSet, takenOf } from '@longheron/formats/photo-set';
import { tick } from '@longheron/core/shared';
import { question } from '../../computation/question';

/** What photographs of a set say of themselves, in order of their names. */
export default question<{ object: string; name: string }, PhotographDto[]>(async ({ object, name }, store, watch) => {
  const content: PhotographDto[] = [];
  const set = await openPhotoSet(store.path(object), name);
  for (const [k, photo] of set.entries()) {
    tick(watch, k / set.length, `Reading ${photo.name}`);
    const exif = await exifOf(photo);
    const { place } = exif ?? {};
    content.push({
      ...takenOf(photo, exif),
      zoneH: exif?.zoneH ?? null,
      place: place
        ? {
            latDeg: place.latDeg,
            lonDeg: place.lonDeg,
            altitudeM: place.altitudeM ?? null,
            errorM: place.errorM ?? null,
          }
        : null,
    });
  }
  return { content };
});
