import { nearOrder } from '../../numeric/envelope';
import { TERMS, type Block, type BlockState } from './model';

/** Where unknowns stand in the equations: poses in an order in which linked pictures are near each other, then the rest. */
export interface Layout {
  size: number;
  /** First column of each row of the equations. */
  first: Int32Array;
  /** First of six columns of each picture. */
  imageAt: Int32Array;
  /** First of three columns of each session's shift. */
  shiftAt: Int32Array;
  /** First of three columns of a point that stays in the equations; −1: it is eliminated. */
  pointAt: Int32Array;
  /** Column of each term of each camera, −1: held. */
  termAt: Int32Array;
  /** Rays by point, those of a point in the order of their pictures' columns. */
  from: Int32Array;
  ray: Int32Array;
  /** Most columns that one point touches. */
  widest: number;
}

/** @param free which terms of each camera are looked for. @param counts rays that count. */
export function layoutOf(
  block: Block,
  state: BlockState,
  free: ReadonlyArray<readonly boolean[]>,
  counts: (ray: number) => boolean,
): Layout {
  const { images, points, rays, cameras, distances } = block;
  const pointAt = new Int32Array(points.length).fill(-1);
  // distances tie two points to each other, and their own deviations are asked for
  for (const d of distances) for (const p of [d.from, d.to]) pointAt[p] = 0;
  const from = new Int32Array(points.length + 1);
  for (let r = 0; r < rays.count; r++) if (counts(r)) from[rays.point[r] + 1]++;
  for (let p = 0; p < points.length; p++) from[p + 1] += from[p];
  const ray = new Int32Array(from[points.length]);
  const next = from.slice();
  for (let r = 0; r < rays.count; r++) if (counts(r)) ray[next[rays.point[r]]++] = r;
  const links = images.map(() => new Set<number>());
  for (let p = 0; p < points.length; p++)
    for (let a = from[p]; a < from[p + 1]; a++)
      for (let b = from[p]; b < from[p + 1]; b++) if (a !== b) links[rays.image[ray[a]]].add(rays.image[ray[b]]);
  const imageAt = new Int32Array(images.length);
  bestOrder(links, state).forEach((image, k) => (imageAt[image] = 6 * k));
  let size = 6 * images.length;
  const shiftAt = Int32Array.from({ length: state.shifts.length / 3 }, () => (size += 3) - 3);
  for (let p = 0; p < points.length; p++) if (pointAt[p] === 0) pointAt[p] = (size += 3) - 3;
  const termAt = new Int32Array(TERMS * cameras.length).fill(-1);
  for (let k = 0; k < termAt.length; k++) if (free[Math.floor(k / TERMS)][k % TERMS]) termAt[k] = size++;
  const first = new Int32Array(size);
  images.forEach((_, i) => {
    let least = imageAt[i];
    for (const j of links[i]) least = Math.min(least, imageAt[j]);
    first.fill(least, imageAt[i], imageAt[i] + 6);
  });
  let widest = 0;
  for (let p = 0; p < points.length; p++) {
    ray.subarray(from[p], from[p + 1]).sort((a, b) => imageAt[rays.image[a]] - imageAt[rays.image[b]]);
    widest = Math.max(widest, 6 * (from[p + 1] - from[p]));
  }
  return { size, first, imageAt, shiftAt, pointAt, termAt, from, ray, widest: widest + termAt.length };
}

/** The order in which linked pictures stand nearest to each other: by their links, or along one of three directions. */
function bestOrder(links: ReadonlyArray<ReadonlySet<number>>, { centres }: BlockState): Int32Array {
  const along = (k: number) =>
    Int32Array.from(links, (_, i) => i).sort((a, b) => centres[3 * a + k] - centres[3 * b + k] || a - b);
  const orders = [nearOrder(links), along(0), along(1), along(2)];
  const cost = (order: Int32Array) => {
    const at = new Int32Array(order.length);
    order.forEach((image, k) => (at[image] = k));
    let sum = 0;
    links.forEach((l, i) => {
      let least = at[i];
      for (const j of l) least = Math.min(least, at[j]);
      sum += (at[i] - least + 1) ** 2;
    });
    return sum;
  };
  return orders.map((order) => ({ order, cost: cost(order) })).reduce((a, b) => (b.cost < a.cost ? b : a)).order;
}
