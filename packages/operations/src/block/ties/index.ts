import { type TieFigures } from '@longheron/contract/kinds/block';
import { searchTies, type BlockImage, type TiePicture, type Ties } from '@longheron/core/photo';
import { part, Problem, tick, type Notice, type Watch } from '@longheron/core/shared';
import { FeatureFinder } from '@longheron/features';
import { type PhotoFile } from '@longheron/formats/photo-set';
import { imageKey, type Pick } from '@longheron/formats/picks';
import { readPixels } from '../../shared/photographs';
import { some, type Pictures } from '../images';

/** A picture with fewer features shows next to nothing that can be found again. */
const FEW_FEATURES = 100;
/** A picture that is held by fewer ties hangs on few. */
const FEW_TIES = 30;

/** Ties that were found by themselves, as picks, and how it went. */
export interface FoundTies {
  picks: Pick[];
  figures: TieFigures;
  /** Images that show something else than where they are said to have been taken. */
  misplaced: string[];
}

/** Photographs in which ties can be looked for: what surrounds a point in a full panorama looks otherwise in each. */
export const tiesIn = (photos: readonly PhotoFile[], { images, cameras, index }: Pictures): PhotoFile[] =>
  photos.filter((p) => cameras[images[index.get(imageKey(p.name))!].camera].camera.model !== 'sphere');

/** Finds ties between photographs. @throws Problem for a photograph that cannot be read, or where none ties to another. */
export async function findTies(
  photos: readonly PhotoFile[],
  { images, cameras, index }: Pictures,
  tieSdPx: number,
  notice: (n: Notice) => void,
  files: { photos: string },
  watch?: Watch,
): Promise<FoundTies> {
  const own = photos.map((p) => images[index.get(imageKey(p.name))!]);
  const pictures = await describe(photos, own, cameras, part(watch, 0, 0.6));
  const ties = searchTies(pictures, part(watch, 0.6, 1));
  const figures = figuresOf(pictures, ties);
  if (!ties.tracks.length)
    throw new Problem('No two of the photographs could be tied to each other.', {
      code: 'ties-none',
      file: files.photos,
      remedy: 'They need to overlap by half and to show things that stay where they are; else pick points by hand.',
    });
  tellOf(pictures, figures, ties, files.photos, notice);
  const digits = String(ties.tracks.length).length;
  const picks = ties.tracks.flatMap((t, k) =>
    t.images.map((i, j): Pick => ({
      image: pictures[i].name,
      point: `tie ${String(k + 1).padStart(digits, '0')}`,
      xPx: ties.features[i].uPx[t.features[j]],
      yPx: ties.features[i].vPx[t.features[j]],
      sdPx: tieSdPx,
    })),
  );
  return { picks, figures, misplaced: ties.misplaced.map((i) => pictures[i].name) };
}

/** Features of all photographs, as many at a time as there are threads. */
async function describe(
  photos: readonly PhotoFile[],
  images: readonly BlockImage[],
  cameras: Pictures['cameras'],
  watch?: Watch,
): Promise<TiePicture[]> {
  const finder = new FeatureFinder();
  const out = new Array<TiePicture>(photos.length);
  let [next, done] = [0, 0];
  const work = async () => {
    while (next < photos.length) {
      const i = next++;
      const { camera, name } = cameras[images[i].camera];
      const { widthPx, heightPx, bytes } = await readPixels(photos[i], { ...camera, name }, 'grey');
      const features = await finder.find({ widthPx, heightPx, grey: bytes });
      tick(watch, ++done / photos.length, `Finding features, ${done} of ${photos.length} photographs`);
      const { centreM, rotation } = images[i];
      const known = !Number.isNaN(centreM[0]) && !Number.isNaN(rotation[0]);
      out[i] = { name: images[i].name, camera, features, ...(known ? { pose: { centreM, rotation } } : {}) };
    }
  };
  try {
    await Promise.all(Array.from({ length: finder.width }, work));
  } finally {
    await finder.close();
  }
  return out;
}

function figuresOf(pictures: readonly TiePicture[], ties: Ties): TieFigures {
  const held = pictures.map(() => ({ ties: 0, partners: 0 }));
  for (const { images } of ties.tracks) for (const i of images) held[i].ties++;
  for (const { a, b } of ties.pairs) for (const i of [a, b]) held[i].partners++;
  return {
    photographs: pictures.length,
    features: pictures.reduce((s, p) => s + p.features.count, 0),
    pairs: ties.pairs.length,
    matched: ties.pairs.reduce((s, p) => s + p.matched, 0),
    agreed: ties.pairs.reduce((s, p) => s + p.agreed, 0),
    found: ties.found,
    used: ties.tracks.length,
    rays: held.reduce((s, h) => s + h.ties, 0),
    depth_m: ties.depthM ?? null,
    weak: pictures.flatMap((p, i) => (held[i].ties < FEW_TIES ? [{ image: p.name, ...held[i] }] : [])),
  };
}

function tellOf(
  pictures: readonly TiePicture[],
  { weak }: TieFigures,
  ties: Ties,
  file: string,
  notice: (n: Notice) => void,
): void {
  const bare = pictures.filter((p) => p.features.count < FEW_FEATURES).map((p) => p.name);
  if (bare.length)
    notice({
      code: 'ties-bare',
      severity: 'warning',
      file,
      text: `${bare.length} photographs show next to nothing that can be found again: ${some(bare)}.`,
      effect: 'Sky, water or blur tie nothing.',
      remedy: 'Leave them out, or pick points in them by hand.',
    });
  if (weak.length)
    notice({
      code: 'ties-weak',
      severity: 'warning',
      file,
      text: `${weak.length} photographs hang on fewer than ${FEW_TIES} ties: ${some(weak.map((w) => `${w.image} (${w.ties})`))}.`,
      effect: 'Where they are and how they are turned is less sure than of the others.',
      remedy: 'Pick a few points in them that others show too.',
    });
  const misplaced = ties.misplaced.map((i) => pictures[i].name);
  const placed = pictures.filter((p) => p.pose).length;
  if (misplaced.length > placed / 2)
    notice({
      code: 'ties-attitudes',
      severity: 'warning',
      file,
      text: `What ${misplaced.length} of ${placed} photographs show does not fit where and how they are said to have been taken.`,
      effect: 'They are oriented by what they show; that takes longer.',
      remedy: 'Give the mounting: it says how the camera looks from the body whose attitudes are listed.',
    });
  else if (misplaced.length)
    notice({
      code: 'ties-misplaced',
      severity: 'warning',
      file,
      text: `What ${misplaced.length === 1 ? 'one photograph shows' : `${misplaced.length} photographs show`} does not fit where they are said to have been taken: ${some(misplaced)}.`,
      effect: 'They are oriented by what they show; the adjustment says how far their positions are off.',
      remedy: 'See whether their positions are exchanged, or belong to other photographs.',
    });
}
