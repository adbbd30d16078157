import { type MetDto, type RayDto } from '@longheron/contract/api';
import { DEG } from '@longheron/core/frames';
import { intersectRays, type Intersection, type PictureRay } from '@longheron/core/photo';
import { imageKey } from '@longheron/formats/picks';
import { fromBlock, type AdjustedPictures } from './adjusted';
import { gridSds } from './places';

/** 1 SD of a pick that states none, pixels. */
export const USUAL_PICK_PX = 0.5;

/** Rays of pictures that are oriented; others are of no use. */
export function raysOf({ pictures }: AdjustedPictures, seen: readonly RayDto[]): PictureRay[] {
  const byKey = new Map(pictures.map((p) => [imageKey(p.name), p]));
  return seen.flatMap(({ image, xPx, yPx, sdPx }) => {
    const picture = byKey.get(imageKey(image));
    return picture ? [{ picture, uPx: xPx, vPx: yPx, sdPx: sdPx ?? USUAL_PICK_PX }] : [];
  });
}

/** Where rays meet, in the system of the project. */
export function metBy(
  block: AdjustedPictures,
  rays: readonly PictureRay[],
): { met: MetDto; of: Intersection } | undefined {
  const of = intersectRays(rays, block.between);
  if (!of) return undefined;
  return {
    of,
    met: {
      at: fromBlock(block, of.at),
      sd: gridSds(block.axes, of.covM2),
      angleDeg: of.angleRad / DEG,
      rmsPx: of.rmsPx,
      rays: rays.map(({ picture }, k) => ({
        image: picture.name,
        dxPx: of.residualsPx[k][0],
        dyPx: of.residualsPx[k][1],
        test: of.tests[k],
      })),
    },
  };
}
