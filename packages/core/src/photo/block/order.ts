import { layoutOf } from './layout';
import { type Block, type BlockState, type Rays } from './model';

/**
 * Rays in the order in which they are gone through: by point, neighbouring points together, so that what is needed next
 * lies near in memory.
 * @returns those rays, and of each the ray that it was.
 */
export function inOrder(block: Block, state: BlockState): { rays: Rays; was: Int32Array } {
  const { rays } = block;
  const held = block.cameras.map(() => []);
  const { points, from, ray } = layoutOf(block, state, held, () => true);
  const was = new Int32Array(rays.count);
  let count = 0;
  for (const p of points) for (let k = from[p]; k < from[p + 1]; k++) was[count++] = ray[k];
  return {
    was,
    rays: {
      count,
      image: was.map((r) => rays.image[r]),
      point: was.map((r) => rays.point[r]),
      uPx: Float64Array.from(was, (r) => rays.uPx[r]),
      vPx: Float64Array.from(was, (r) => rays.vPx[r]),
      sdPx: Float64Array.from(was, (r) => rays.sdPx[r]),
      group: rays.group && Uint8Array.from(was, (r) => rays.group![r]),
    },
  };
}

/** Numbers of rays in order, as many of each, where those rays were. */
export function backInPlace<T extends Uint8Array | Float64Array>(values: T, each: number, was: Int32Array): T {
  const out = values.slice() as T;
  was.forEach((r, k) => {
    for (let i = 0; i < each; i++) out[each * r + i] = values[each * k + i];
  });
  return out;
}
