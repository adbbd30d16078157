import { sensorToBody, type Mounting } from '@longheron/core/frames';
import { ecefToGeodetic, ecefToNed, geodeticToEcef, GRS80 } from '@longheron/core/frames';
import { multiply3 } from '@longheron/core/numeric';
import { type PicturePose } from '@longheron/core/photo';
import { Problem, type Notice } from '@longheron/core/shared';
import { matchPhotos } from '@longheron/core/trajectory';
import { type ListedCamera } from '@longheron/formats/cameras';
import { type ExifFacts } from '@longheron/formats/exif';
import { imageKey } from '@longheron/formats/picks';
import { exifOf, type PhotoFile, type PhotoPosition, type PhotoPositions } from '@longheron/formats/photo-set';
import { cameraAxesOf, cameraSensorOf } from './cameras';

/** A photograph with its camera and where it was taken. */
export interface Oriented {
  photo: PhotoFile;
  camera: ListedCamera;
  pose: PicturePose;
}

export interface Paired {
  pictures: Oriented[];
  /** Photographs without a position, and positions without a photograph. */
  photosAlone: string[];
  positionsAlone: string[];
  /** Found by name, else by the times in the photographs, else in their order. */
  by: 'name' | 'times' | 'order' | 'none';
}

/** Photographs are of another day when their clocks are this far from the positions, hours. */
export const OTHER_DAY_H = 14;
export const GPS_EPOCH_S = 315_964_800;

/**
 * Brings photographs, positions and cameras together.
 * @throws Problem when nothing fits, by what was looked for.
 */
export async function pairOriented(
  photos: readonly PhotoFile[],
  positions: PhotoPositions,
  cameras: readonly ListedCamera[],
  mounting: Mounting | undefined,
  names: { photos: string; positions: string; cameras: string },
  notice: (n: Notice) => void,
): Promise<Paired> {
  const exif = await exifOfAll(photos);
  const { rows, by } = rowsOf(photos, positions, exif);
  if (!rows.size)
    throw new Problem('No photograph has a position: neither names nor times fit.', {
      code: 'photos-pairs',
      file: names.positions,
      place: 'column label',
      remedy: 'Choose the positions of these photographs, or pair events and photographs in Position first.',
    });
  if (by === 'order')
    notice({
      code: 'photos-by-order',
      severity: 'warning',
      file: names.photos,
      text: 'Neither names nor times of the photographs fit the positions; as many of both are there, so they were taken in order.',
      effect: 'One photograph too many or too few in the middle shifts all that follow.',
      remedy: 'See whether edges agree; else pair events and photographs in Position.',
    });
  otherDay(rows, exif, names, notice);
  const pictures: Oriented[] = [];
  for (const [photo, row] of rows) {
    const camera = cameraOf(photo, row, cameras, exif.get(photo), names.cameras);
    pictures.push({ photo, camera, pose: poseOf(row, positions, camera, mounting, names.positions) });
  }
  const taken = new Set([...rows.values()]);
  const photosAlone = photos.filter((p) => !rows.has(p)).map((p) => p.name);
  const positionsAlone = positions.rows.filter((r) => !taken.has(r)).map((r) => r.image);
  const some = (list: string[]) =>
    list.slice(0, 5).join(', ') + (list.length > 5 ? ` and ${list.length - 5} more` : '');
  if (photosAlone.length)
    notice({
      code: 'photos-alone',
      severity: 'warning',
      file: names.photos,
      text: `${photosAlone.length} of ${photos.length} photographs have no position: ${some(photosAlone)}.`,
      effect: 'They are not used.',
      remedy: 'Look at the events of these photographs in Position.',
    });
  if (positionsAlone.length)
    notice({
      code: 'positions-alone',
      severity: 'info',
      file: names.positions,
      text: `${positionsAlone.length} positions have no photograph: ${some(positionsAlone)}.`,
    });
  return { pictures, photosAlone, positionsAlone, by };
}

/** What each photograph says of itself. */
export async function exifOfAll(photos: readonly PhotoFile[]): Promise<Map<PhotoFile, ExifFacts | undefined>> {
  const exif = new Map<PhotoFile, ExifFacts | undefined>();
  for (const photo of photos) exif.set(photo, await exifOf(photo));
  return exif;
}

/** Which position is of which photograph: by name, else by time, else by order. */
export function rowsOf(
  photos: readonly PhotoFile[],
  positions: PhotoPositions,
  exif: ReadonlyMap<PhotoFile, ExifFacts | undefined>,
): { rows: Map<PhotoFile, PhotoPosition>; by: Paired['by'] } {
  const byName = new Map(positions.rows.map((r) => [imageKey(r.image), r]));
  const rows = new Map<PhotoFile, PhotoPosition>();
  for (const photo of photos) {
    const row = byName.get(imageKey(photo.name));
    if (row) rows.set(photo, row);
  }
  if (rows.size) return { rows, by: 'name' };
  const timed = positions.rows.filter((r) => r.gpsS !== undefined).sort((a, b) => a.gpsS! - b.gpsS!);
  const match = matchPhotos(
    timed.map((r) => r.gpsS!),
    photos.map((p) => ({ name: p.name, takenS: exif.get(p)?.takenS ?? Number.NaN })),
  );
  for (const pair of match.pairs) rows.set(photos[pair.photo], timed[pair.event]);
  return { rows, by: match.by };
}

function otherDay(
  rows: ReadonlyMap<PhotoFile, PhotoPosition>,
  exif: ReadonlyMap<PhotoFile, ExifFacts | undefined>,
  names: { photos: string },
  notice: (n: Notice) => void,
): void {
  const off = [...rows].flatMap(([photo, { gpsS }]) => {
    const taken = exif.get(photo)?.takenS ?? Number.NaN;
    return gpsS !== undefined && Number.isFinite(taken) ? [Math.abs(taken - gpsS - GPS_EPOCH_S) / 3600] : [];
  });
  const far = off.filter((h) => h > OTHER_DAY_H).length;
  if (far > off.length / 2)
    notice({
      code: 'photos-other-day',
      severity: 'error',
      file: names.photos,
      text: `${far} of ${off.length} photographs were taken on another day than their positions, by their own clocks.`,
      effect: 'Their names fit, but they show something else.',
      remedy: 'Choose the photographs of this flight or drive.',
    });
}

function cameraOf(
  photo: PhotoFile,
  row: PhotoPosition,
  cameras: readonly ListedCamera[],
  exif: ExifFacts | undefined,
  file: string,
): ListedCamera {
  if (cameras.length === 1) return cameras[0];
  const found =
    cameras.find((c) => c.name === row.camera) ??
    cameras.find((c) => c.images?.some((i) => imageKey(i) === imageKey(photo.name))) ??
    cameras.find((c) => c.bodySerial && c.bodySerial === exif?.serial);
  if (found) return found;
  throw new Problem(`Which of the ${cameras.length} cameras took ${photo.name} is not said.`, {
    code: 'photos-camera',
    file,
    place: 'body_serial, images',
    remedy: 'Give each camera its body serial number as the photographs have it, or the names of its images.',
  });
}

function poseOf(
  row: PhotoPosition,
  { point, oriented }: PhotoPositions,
  camera: ListedCamera,
  mounting: Mounting | undefined,
  file: string,
): PicturePose {
  if (!row.rotation)
    throw new Problem(`${row.image} has a position but no attitude.`, {
      code: 'photos-attitude',
      file,
      place: `row ${row.image}`,
      remedy: 'Use positions of a trajectory with inertial data, or the orientations of an adjusted block.',
    });
  const { latRad, lonRad, hEllM, rotation } = row;
  if (oriented) return { latRad, lonRad, hEllM, rotation };
  const sensors = mounting?.sensors ?? {};
  if (!mounting || (point && sensors[point])) {
    const axes = cameraAxesOf(point ? sensors[point] : undefined);
    return { latRad, lonRad, hEllM, rotation: axes ? multiply3(rotation, axes) : rotation };
  }
  // positions of the body: the arm of the camera, once, and its angles
  const sensor = cameraSensorOf(camera.name, mounting, file, point);
  const l = sensor.leverArmM;
  const ned = ecefToNed(latRad, lonRad);
  const at = geodeticToEcef(GRS80, latRad, lonRad, hEllM);
  const arm = [0, 1, 2].map((k) => rotation[3 * k] * l[0] + rotation[3 * k + 1] * l[1] + rotation[3 * k + 2] * l[2]);
  const moved = at.map((v, k) => v + ned[k] * arm[0] + ned[3 + k] * arm[1] + ned[6 + k] * arm[2]);
  const geo = new Float64Array(3);
  ecefToGeodetic(GRS80, moved[0], moved[1], moved[2], geo);
  const turned = multiply3(rotation, sensorToBody(sensor));
  const axes = cameraAxesOf(sensor);
  return { latRad: geo[0], lonRad: geo[1], hEllM: geo[2], rotation: axes ? multiply3(turned, axes) : turned };
}
