import { readFile } from 'node:fs/promises';
import { type PhotographPairsDto } from '@longheron/contract/api';
import { type ReferenceSystem } from '@longheron/core/frames';
import { median } from '@longheron/core/numeric';
import { Problem } from '@longheron/core/shared';
import { parseSystem } from '@longheron/formats/crs';
import { type ExifFacts } from '@longheron/formats/exif';
import {
  openPhotoSet,
  readPhotoPositions,
  type PhotoFile,
  type PhotoPosition,
  type PhotoPositions,
} from '@longheron/formats/photo-set';
import { imageKey } from '@longheron/formats/picks';
import { question } from '../../computation/question';
import { exifOfAll, GPS_EPOCH_S, OTHER_DAY_H, rowsOf } from '../../shared/photographs';

interface Asked {
  set: { object: string; name: string };
  /** Lists by the datasets they are of. */
  lists: Array<{ id: number; object: string; name: string }>;
  crs: string | null;
}

/** Two positions nearer than this are one, radians of latitude: a centimetre. */
const SAME_RAD = 1.6e-9;
/** Points of a list that are a camera's own. */
const AT_CAMERA = /cam/i;

/** Photographs against each list of positions: which fit, what is left over on either side, what is odd. */
export default question<Asked, { [list: number]: PhotographPairsDto }>(async ({ set, lists, crs }, store) => {
  const photos = await openPhotoSet(store.path(set.object), set.name);
  const exif = await exifOfAll(photos);
  const system = crs ? parseSystem(crs) : undefined;
  const content: { [list: number]: PhotographPairsDto } = {};
  for (const { id, object, name } of lists)
    try {
      content[id] = pairsOf(photos, exif, readPhotoPositions(await readFile(store.path(object)), name), system);
    } catch (error) {
      // one list that cannot be read does not stop the others
      if (!(error instanceof Problem)) throw error;
    }
  return { content };
});

function pairsOf(
  photos: readonly PhotoFile[],
  exif: ReadonlyMap<PhotoFile, ExifFacts | undefined>,
  list: PhotoPositions,
  system: ReferenceSystem | undefined,
): PhotographPairsDto {
  const { rows, by } = rowsOf(photos, list, exif);
  const used = new Set([...rows.values()]);
  const place = new Float64Array(3);
  const pairs = [...rows].map(([photo, row]): PhotographPairsDto['pairs'][number] => {
    const taken = exif.get(photo)?.takenS ?? Number.NaN;
    const off = row.gpsS === undefined ? Number.NaN : taken - row.gpsS - GPS_EPOCH_S;
    if (system) system.project(row.latRad, row.lonRad, row.hEllM, place);
    return {
      image: photo.name,
      label: row.image,
      offS: Number.isFinite(off) ? off : null,
      at: system ? [place[0], place[1], place[2]] : null,
    };
  });
  const all = [...used];
  const paired = new Set([...rows.keys()].map((p) => imageKey(p.name)));
  return {
    by: rows.size ? by : 'none',
    point: list.point ?? null,
    atCamera: list.oriented || AT_CAMERA.test(list.point ?? ''),
    attitudes: list.rows.some((r) => r.rotation),
    sdM: sdOf(list.rows),
    pairs,
    photosAlone: photos.filter((p) => !rows.has(p)).map((p) => p.name),
    positionsAlone: list.rows.filter((r) => !used.has(r)).map((r) => r.image),
    without: list.without.filter((name) => !paired.has(imageKey(name))),
    doubled: doubledOf(all),
    samePlace: all.length > 2 && all.every((r) => near(r, all[0])),
    otherDay: pairs.filter((p) => p.offS !== null && Math.abs(p.offS) / 3600 > OTHER_DAY_H).length,
  };
}

const near = (a: PhotoPosition, b: PhotoPosition) =>
  Math.abs(a.latRad - b.latRad) < SAME_RAD && Math.abs(a.lonRad - b.lonRad) < SAME_RAD;

/** Photographs that have the position of the one before them in the order of places. */
function doubledOf(rows: readonly PhotoPosition[]): string[] {
  const sorted = [...rows].sort((a, b) => a.latRad - b.latRad || a.lonRad - b.lonRad);
  return sorted.filter((r, k) => k > 0 && near(r, sorted[k - 1])).map((r) => r.image);
}

function sdOf(rows: readonly PhotoPosition[]): [number, number, number] | null {
  const stated = rows.flatMap((r) => (r.sdM ? [r.sdM] : []));
  if (!stated.length) return null;
  const of = (k: number) => median(stated.map((s) => s[k]));
  return [of(0), of(1), of(2)];
}
