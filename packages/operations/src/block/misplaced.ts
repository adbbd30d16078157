import { apply3, type Vector3 } from '@longheron/core/numeric';
import { type AdjustedBlock, type Block, type BlockImage } from '@longheron/core/photo';

/** A picture that was oriented by what it shows, and where it was said to have been taken instead; axes of the block. */
export interface Astray {
  name: string;
  foundM: Vector3;
  saidM: Vector3;
  /** Distance in deviations of what was said. */
  test: number;
}

/** Found and said places of pictures whose positions had no say. */
export function misplacedOf(lost: readonly BlockImage[], block: Block, a: AdjustedBlock): Astray[] {
  return lost.flatMap((image): Astray[] => {
    const k = block.images.findIndex((i) => i.name === image.name);
    const given = image.given;
    if (k < 0 || !given || !a.oriented[k]) return [];
    const centre = a.state.centres.subarray(3 * k, 3 * k + 3);
    const arm = given.armM ? apply3(a.state.rotations.slice(9 * k, 9 * k + 9), given.armM) : [0, 0, 0];
    const foundM = [0, 1, 2].map((j) => centre[j] - arm[j]) as Vector3;
    const test = Math.max(...foundM.map((v, j) => Math.abs(v - given.placeM[j]) / given.sdM[j]));
    return [{ name: image.name, foundM, saidM: given.placeM, test }];
  });
}

/** Places nearer to each other than this are one, metres. */
const SAME_M = 3;

/** Pairs of pictures of which each was taken where the other is said to have been. */
export function exchangedOf(list: readonly Astray[]): Array<[string, string]> {
  const near = (p: Vector3, q: Vector3) => Math.hypot(...p.map((v, k) => v - q[k])) < SAME_M;
  return list.flatMap((a, i) =>
    list
      .slice(i + 1)
      .filter((b) => near(a.foundM, b.saidM) && near(b.foundM, a.saidM))
      .map((b): [string, string] => [a.name, b.name]),
  );
}
