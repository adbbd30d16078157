import { readFile } from 'node:fs/promises';
import { type BlocksComparedDto } from '@longheron/contract/api';
import { type Contents } from '@longheron/contract/kinds';
import { DEG } from '@longheron/core/frames';
import { multiply3, transpose3 } from '@longheron/core/numeric';
import { type OrientedPicture } from '@longheron/core/photo';
import { Problem } from '@longheron/core/shared';
import { readBlockPoints } from '@longheron/formats/block-points';
import { imageKey } from '@longheron/formats/picks';
import { question } from '../../computation/question';
import { adjustedPictures, fromBlock, quaternionOf, type AdjustedPictures } from '../../shared/photographs';
import { type Store } from '../../shared/store';

interface Asked {
  a: Contents['block'];
  b: Contents['block'];
  crs: string | null;
}

/** Ties that were found by themselves have numbers that mean nothing in another block. */
const isFound = (p: { point: string; kind: string }) => p.kind === 'tie' && /^tie \d+$/.test(p.point);

/** What two blocks say of the photographs and points that both have: the first less the second, in the system of the project. */
export default question<Asked, BlocksComparedDto>(async ({ a, b, crs }, store) => {
  if ([a, b].some((c) => c.figures.frame === 'local'))
    throw new Problem('A block with a frame of its own cannot be held against another.', {
      code: 'blocks-local',
      remedy: 'Give both positions or control, so that they lie in the system of the project.',
    });
  const [first, second] = [await adjustedPictures(store, a, crs), await adjustedPictures(store, b, crs)];
  const others = new Map(second.pictures.map((p) => [imageKey(p.name), p]));
  const images = first.pictures.flatMap((p) => {
    const q = others.get(imageKey(p.name));
    if (!q) return [];
    const [at, to] = [fromBlock(first, p.centreM), fromBlock(second, q.centreM)];
    return [
      {
        image: p.name,
        d: minus(at, to),
        sd: both(p.sdCentreM, q.sdCentreM),
        turnDeg: turnDeg(first, p, second, q),
      },
    ];
  });
  const known = new Map((await pointsOf(store, b)).map((p) => [p.point, p]));
  const points = (await pointsOf(store, a)).flatMap((p) => {
    const q = known.get(p.point);
    return q ? [{ point: p.point, kind: p.kind, d: minus(p.at, q.at), sd: both(p.sd, q.sd) }] : [];
  });
  return { content: { images, points } };
});

const pointsOf = async (store: Store, { points }: Contents['block']) =>
  points ? readBlockPoints(await readFile(store.path(points)), 'points of the block').filter((p) => !isFound(p)) : [];

type Three = [number, number, number];
const minus = (p: readonly number[], q: readonly number[]): Three => [p[0] - q[0], p[1] - q[1], p[2] - q[2]];
const both = (p: readonly number[], q: readonly number[]): Three => [
  Math.hypot(p[0], q[0]),
  Math.hypot(p[1], q[1]),
  Math.hypot(p[2], q[2]),
];

/** By how much one is turned against the other, degrees. */
function turnDeg(a: AdjustedPictures, p: OrientedPicture, b: AdjustedPictures, q: OrientedPicture): number {
  // from level axes at one middle to those at the other, over the earth's
  const between = multiply3(transpose3(b.axes!.frame.toEarth), a.axes!.frame.toEarth);
  const [, x, y, z] = quaternionOf(multiply3(transpose3(q.rotation), multiply3(between, p.rotation)));
  return (2 * Math.asin(Math.min(1, Math.hypot(x, y, z)))) / DEG;
}
