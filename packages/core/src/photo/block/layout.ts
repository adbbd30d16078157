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
  /** Points with rays, in the order of their first pictures: neighbours touch the same part of the equations. */
  points: Int32Array;
  /** Most rays of one point. */
  mostRays: number;
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
  const links = linksOf(images.length, points.length, from, (k) => rays.image[ray[k]]);
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
  let mostRays = 0;
  const seen = new Int32Array(points.length);
  let count = 0;
  for (let p = 0; p < points.length; p++) {
    sortFew(ray, from[p], from[p + 1], (r) => imageAt[rays.image[r]]);
    mostRays = Math.max(mostRays, from[p + 1] - from[p]);
    if (from[p + 1] > from[p]) seen[count++] = p;
  }
  const firstOf = (p: number) => imageAt[rays.image[ray[from[p]]]];
  const inOrder = seen.slice(0, count).sort((a, b) => firstOf(a) - firstOf(b) || a - b);
  return { size, first, imageAt, shiftAt, pointAt, termAt, from, ray, points: inOrder, mostRays };
}

/** Pictures that see a point together. */
function linksOf(images: number, points: number, from: Int32Array, imageOf: (k: number) => number): Array<Set<number>> {
  const together = new Uint8Array(images * images);
  for (let p = 0; p < points; p++)
    for (let a = from[p]; a < from[p + 1]; a++) {
      const row = images * imageOf(a);
      for (let b = from[p]; b < from[p + 1]; b++) together[row + imageOf(b)] = 1;
    }
  return Array.from({ length: images }, (_, i) => {
    const out = new Set<number>();
    for (let j = 0; j < images; j++) if (j !== i && together[images * i + j]) out.add(j);
    return out;
  });
}

/** Sorts a part of a list, which is short and often in order. */
function sortFew(list: Int32Array, from: number, to: number, key: (v: number) => number): void {
  for (let k = from + 1; k < to; k++) {
    const v = list[k];
    const own = key(v);
    let at = k;
    for (; at > from && key(list[at - 1]) > own; at--) list[at] = list[at - 1];
    list[at] = v;
  }
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
