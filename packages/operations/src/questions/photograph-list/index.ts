import { type PhotographDto } from '@longheron/contract/api';
import { exifOf, openPhotoSet } from '@longheron/formats/photo-set';
import { tick } from '@longheron/core/shared';
import { question } from '../../computation/question';
import { finite } from '../../shared/words';

/** What photographs of a set say of themselves, in order of their names. */
export default question<{ object: string; name: string }, PhotographDto[]>(async ({ object, name }, store, watch) => {
  const content: PhotographDto[] = [];
  const set = await openPhotoSet(store.path(object), name);
  for (const [k, photo] of set.entries()) {
    tick(watch, k / set.length, `Reading ${photo.name}`);
    const exif = await exifOf(photo);
    content.push({
      name: photo.name,
      bytes: photo.size,
      widthPx: exif?.widthPx ?? null,
      heightPx: exif?.heightPx ?? null,
      takenS: finite(exif?.takenS ?? Number.NaN),
      zoneH: exif?.zoneH ?? null,
      camera: exif?.camera ?? '',
      serial: exif?.serial ?? '',
      lens: exif?.lens ?? '',
      lensSerial: exif?.lensSerial ?? '',
      focalMm: exif?.focalMm ?? null,
      focalPx: exif?.focalPx ?? null,
      orientation: exif?.orientation ?? 1,
      place: exif?.place
        ? {
            latDeg: exif.place.latDeg,
            lonDeg: exif.place.lonDeg,
            altitudeM: exif.place.altitudeM ?? null,
            errorM: exif.place.errorM ?? null,
          }
        : null,
    });
  }
  return { content };
});
