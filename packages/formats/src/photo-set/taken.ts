import { type TakenPhoto } from '@longheron/core/photo';
import { type ExifFacts } from '../exif';
import { type PhotoFile } from './photoFile';

const known = (v: number | undefined) => (v !== undefined && Number.isFinite(v) ? v : null);

/** What a photograph says of itself as plain data. */
export const takenOf = ({ name, size }: PhotoFile, exif: ExifFacts | undefined): TakenPhoto => ({
  name,
  bytes: size,
  widthPx: known(exif?.widthPx),
  heightPx: known(exif?.heightPx),
  takenS: known(exif?.takenS),
  camera: exif?.camera ?? '',
  serial: exif?.serial ?? '',
  lens: exif?.lens ?? '',
  lensSerial: exif?.lensSerial ?? '',
  focalMm: known(exif?.focalMm),
  focalPx: known(exif?.focalPx),
  orientation: exif?.orientation ?? 1,
  place: exif?.place ? { latDeg: exif.place.latDeg, lonDeg: exif.place.lonDeg } : null,
});
