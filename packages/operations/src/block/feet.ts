import { median } from '@longheron/core/numeric';
import { directionOf } from '@longheron/core/photo';
import { gridOf } from '../shared/photographs';
import { type Outcome } from './texts';

/** A view that comes to the ground farther away than so many times its height looks along it: no footprint is drawn. */
const MOST_REACH = 6;

/**
 * What each picture shows of a level ground as high as the middle of all points: its corners in the project's system, easting
 * and northing by turns. Null where a corner looks to the sky or far away, and in a frame of its own.
 */
export function feetOf({ block, a, axes }: Outcome): Array<number[] | null> {
  const heights = block.points.flatMap((_, p) => {
    const h = a.state.points[3 * p + 2];
    return Number.isFinite(h) ? [h] : [];
  });
  if (!axes || !heights.length) return block.images.map(() => null);
  const ground = median(heights);
  return block.images.map((image, i) => {
    const camera = a.state.cameras[image.camera];
    if (!a.oriented[i] || camera.model === 'sphere') return null;
    const centre = a.state.centres.subarray(3 * i, 3 * i + 3);
    const r = a.state.rotations.subarray(9 * i, 9 * i + 9);
    const above = centre[2] - ground;
    const [right, low] = [camera.widthPx - 0.5, camera.heightPx - 0.5];
    const corners = [
      [-0.5, -0.5],
      [right, -0.5],
      [right, low],
      [-0.5, low],
    ].map(([u, v]) => {
      const d = directionOf(camera, u, v);
      const way = [0, 1, 2].map((k) => r[3 * k] * d[0] + r[3 * k + 1] * d[1] + r[3 * k + 2] * d[2]);
      const reach = -above / way[2];
      if (!(above > 0 && way[2] < 0 && reach < MOST_REACH * above)) return null;
      const [e, n] = gridOf(axes, [centre[0] + reach * way[0], centre[1] + reach * way[1], ground]);
      return [Number(e.toFixed(2)), Number(n.toFixed(2))];
    });
    return corners.every((c) => c !== null) ? corners.flat() : null;
  });
}
