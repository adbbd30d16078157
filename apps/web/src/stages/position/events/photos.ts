import { type Photo } from '@longheron/core/trajectory';
import { photoListCsv, readExif } from '@longheron/formats/exif';

/** As much of a photograph is read: its EXIF block stands in front. */
const HEAD_BYTES = 128 * 1024;

/** Name and time of photographs on this computer as the CSV that the project takes in; the pictures stay where they are. */
export async function photoList(files: File[]): Promise<string> {
  const photos: Photo[] = [];
  for (const file of files) {
    const head = new Uint8Array(await file.slice(0, HEAD_BYTES).arrayBuffer());
    photos.push({ name: file.name, takenS: readExif(head)?.takenS ?? Number.NaN });
  }
  photos.sort((a, b) => (a.name < b.name ? -1 : 1));
  return photoListCsv(photos);
}
