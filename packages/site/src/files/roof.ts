import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { type ReferenceSystem } from '@longheron/core/frames';
import { RoofPainter, roofPhotos, TRUE_ROOF_CAMERA } from '../roof';
import { camerasText } from './cameras';
import { siteDrive } from './journeys';
import { JOURNEY_FILES, type SiteOptions } from './names';
import { type SiteWriters } from './writers';

/** Draws the photographs of the vehicle's camera into one archive, with a list of that camera. */
export async function makeRoofPhotos(
  folder: string,
  system: ReferenceSystem,
  writers: SiteWriters,
  { seed, level }: SiteOptions,
  progress?: (f: number) => void,
): Promise<void> {
  const photos = roofPhotos(siteDrive());
  const painter = new RoofPainter(siteDrive(), system, seed, level);
  const names = photos.map((p) => p.name);
  await writeFile(
    join(folder, JOURNEY_FILES.vehicleCameras),
    camerasText(seed, [{ camera: TRUE_ROOF_CAMERA, photos: names }]),
  );
  const files: { [name: string]: Uint8Array } = {};
  for (const [k, p] of photos.entries()) {
    files[p.name] = await writers.photo(painter.draw(p), TRUE_ROOF_CAMERA, p.takenS);
    progress?.((k + 1) / photos.length);
  }
  await writeFile(join(folder, JOURNEY_FILES.vehiclePhotos), writers.archive(files));
}
