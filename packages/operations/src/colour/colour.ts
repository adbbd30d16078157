import { type PictureFigures } from '@longheron/contract/kinds/point-cloud';
import { type ReferenceSystem } from '@longheron/core/frames';
import { median } from '@longheron/core/numeric';
import { Painter, View, type Painted, type Pixels } from '@longheron/core/photo';
import { tick, type Watch } from '@longheron/core/shared';
import { type LoadedCloud } from '../shared/cloud';
import { readPixels } from '../shared/photographs';
import { type Oriented } from '../shared/photographs';
import { IntensityPicture } from './proof';

export interface Coloured {
  painted: Painted;
  pictures: PictureFigures[];
  spacingM: number;
}

/** Colours the points of a cloud; a picture is decoded when its turn comes. */
export async function colourPoints(
  cloud: LoadedCloud,
  system: ReferenceSystem,
  pictures: readonly Oriented[],
  { proof, farthestM }: { proof: boolean; farthestM: number },
  watch?: Watch,
): Promise<Coloured> {
  const { set, points } = cloud;
  const painter = new Painter({
    count: set.count,
    origin: set.origin,
    x: Float32Array.from(set.x),
    y: Float32Array.from(set.y),
    z: Float32Array.from(set.z),
  });
  const views = pictures.map(({ pose, camera }) => new View(pose, camera, system));
  painter.plan(views);
  const out: PictureFigures[] = [];
  for (const [k, { photo, camera }] of pictures.entries()) {
    const at = k / pictures.length;
    tick(watch, at, `Looking through ${photo.name}`);
    const pixels = await pixelsOf(pictures[k]);
    let edges: IntensityPicture | undefined;
    const gather = (usualDepthM: number) => {
      const to = (edges = new IntensityPicture(pixels, (painter.spacingM * camera.focalPx) / usualDepthM));
      return (row: number, u: number, v: number) => to.add(u, v, points.intensity[row]);
    };
    const seen = painter.look(k, views[k], pixels, {
      farthestM,
      tick: () => tick(watch, at, `Looking through ${photo.name}`),
      visible: proof ? gather : undefined,
    });
    const shift = seen.inFrame ? edges?.shift() : undefined;
    out.push({
      image: photo.name,
      camera: camera.name,
      in_frame: seen.inFrame,
      hidden: seen.hidden,
      points: 0,
      dx_px: shift?.dx ?? null,
      dy_px: shift?.dy ?? null,
      correlation: shift?.correlation ?? null,
    });
  }
  const painted = painter.finish();
  for (const p of painted.picture) if (p >= 0) out[p].points++;
  return { painted, pictures: out, spacingM: painter.spacingM };
}

/** Shift in pixels over all pictures that tell one: median of their lengths, and of each direction. */
export function shiftOf(pictures: readonly PictureFigures[]): { shift: number; dx: number; dy: number } | null {
  const known = pictures.filter((p) => p.dx_px !== null && p.dy_px !== null);
  if (!known.length) return null;
  return {
    shift: median(known.map((p) => Math.hypot(p.dx_px!, p.dy_px!))),
    dx: median(known.map((p) => p.dx_px!)),
    dy: median(known.map((p) => p.dy_px!)),
  };
}

async function pixelsOf({ photo, camera }: Oriented): Promise<Pixels> {
  const { widthPx, heightPx, bytes } = await readPixels(photo, camera, 'rgb');
  return { widthPx, heightPx, rgb: bytes };
}
