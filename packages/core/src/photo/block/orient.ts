import { symmetricEigen } from '../../numeric/eigen';
import { multiply3, type Matrix3, type Vector3 } from '../../numeric/matrix3';
import { Problem } from '../../shared/problem';
import { tick, type Watch } from '../../shared/progress';
import { directionsOf, placePoints } from './meet';
import { CAMERA_TERMS, startOf, withImages, type Block, type BlockState, type CameraTerm } from './model';
import { relativesOf } from './relative';
import { resect } from './resect';
import { distanceOf, Solver } from './solve';

/** Pairs of pictures that are tried as the first, those of most common points. */
const TRIED = 12;
/** Starts from which some more pictures are oriented, to see which is right. */
const BEGUN = 8;
const LOOK_AHEAD = 5;
/** Points a pair needs, and known ones that a further picture needs. */
const FEWEST_COMMON = 6;
const FEWEST_KNOWN = 4;
/** From so many pictures on, what bends a block most is found with them. */
const CALIBRATED_FROM = 4;
const SHAPE: ReadonlySet<CameraTerm> = new Set(['focalPx', 'k1']);
/** Rays by which poses are sought. */
const MOST_RAYS = 120;
/** A further picture whose rays miss known points by more, radians, waits for others, and at last stays out. */
const MISSES_RAD = [0.003, 0.01, 0.02];
/** A first pair whose rays miss each other by more, radians, is no start. */
const MOST_MISS_RAD = 0.02;

/** Pictures that could be oriented, and how the block lies: as places say, or in a frame of its own. */
export interface Oriented {
  state: BlockState;
  oriented: boolean[];
}

const isKnown = (block: Block, i: number) =>
  !Number.isNaN(block.images[i].centreM[0]) && !Number.isNaN(block.images[i].rotation[0]);

/** Whether all pictures have start values. */
export const hasStart = (block: Block): boolean => block.images.every((_, i) => isKnown(block, i));

/**
 * Start values of pictures by their ties: a first pair, then one picture after the other by points that are known by then,
 * all adjusted together on the way; in the end moved to where given places or control lie, or levelled by the first picture
 * and scaled by the first distance. Pictures that have start values keep them when there are two or more.
 * @throws Problem where no pair can be oriented.
 */
export function orientByTies(block: Block, watch?: Watch): Oriented {
  const state = startOf(block);
  const images = { camera: Int32Array.from(block.images, (i) => i.camera) };
  const directions = directionsOf(block, images, state);
  const raysOf: number[][] = block.images.map(() => []);
  for (let r = 0; r < block.rays.count; r++) raysOf[block.rays.image[r]].push(r);
  const oriented = block.images.map((_, i) => isKnown(block, i));
  const given = oriented.filter(Boolean).length >= 2;
  const growth = { block, images, directions, raysOf };
  if (!given) {
    oriented.fill(false);
    beginWithPair(growth, state, oriented);
  }
  grow(growth, state, oriented, block.images.length, watch);
  settle(block, state, oriented);
  if (!given) moveIntoPlace(block, state, oriented);
  return { state, oriented };
}

interface Growth {
  block: Block;
  images: { camera: Int32Array };
  directions: Float64Array;
  raysOf: readonly number[][];
}

/**
 * Orients one picture after the other by the points that are known. @param most pictures, at which it stops.
 * @returns how many are oriented, and the mean angle by which rays of those that came last miss their points.
 */
function grow(
  { block, images, raysOf }: Growth,
  state: BlockState,
  oriented: boolean[],
  most: number,
  watch?: Watch,
): { count: number; missRad: number } {
  /** Known points of pictures at which they could not be oriented: they are tried again when there are more. */
  const failed = new Int32Array(block.images.length);
  let count = oriented.filter(Boolean).length;
  let [last, added, missRad] = [count, 0, 0];
  let directions = directionsOf(block, images, state);
  let limit = 0;
  while (count < most) {
    tick(watch, count / oriented.length, 'Orienting photographs by their ties');
    state.points.fill(Number.NaN);
    placePoints(block, images, state, (r) => oriented[block.rays.image[r]]);
    const next = bestKnown(block, state, raysOf, oriented, failed);
    if (next === undefined) {
      // what fits badly comes last, when all else stands
      if (++limit === MISSES_RAD.length) break;
      failed.fill(0);
      continue;
    }
    const rays = next.rays.slice(0, MOST_RAYS);
    const near = nearest(block, next.image, oriented, rays);
    const found = resect(
      Float64Array.from(rays.flatMap((r) => [0, 1, 2].map((k) => directions[3 * r + k]))),
      Float64Array.from(rays.flatMap((r) => [0, 1, 2].map((k) => state.points[3 * block.rays.point[r] + k]))),
      state.rotations.slice(9 * near, 9 * near + 9),
    );
    if (!found || found.missRad > MISSES_RAD[limit]) {
      failed[next.image] = next.rays.length;
      continue;
    }
    oriented[next.image] = true;
    count++;
    added++;
    missRad += found.missRad;
    state.centres.set(found.centre, 3 * next.image);
    state.rotations.set(found.rotation, 9 * next.image);
    if (count < 1.3 * last && count > 8) continue;
    settle(block, state, oriented);
    directions = directionsOf(block, images, state);
    last = count;
  }
  return { count, missRad: added ? missRad / added : Number.POSITIVE_INFINITY };
}

/** Begins with the pair, and of its solutions with that one, from which further pictures fit best. */
function beginWithPair(growth: Growth, state: BlockState, oriented: boolean[]): void {
  const { block, directions, raysOf } = growth;
  const { rays } = block;
  const pairs: Array<{ a: number; b: number; common: Array<[number, number]> }> = [];
  for (let a = 0; a < block.images.length; a++) {
    const own = new Map(raysOf[a].map((r) => [rays.point[r], r]));
    for (let b = a + 1; b < block.images.length; b++) {
      const common = raysOf[b].flatMap((r): Array<[number, number]> => {
        const other = own.get(rays.point[r]);
        return other === undefined ? [] : [[other, r]];
      });
      if (common.length >= FEWEST_COMMON) pairs.push({ a, b, common });
    }
  }
  pairs.sort((p, q) => q.common.length - p.common.length);
  const of = (list: readonly number[]) =>
    Float64Array.from(list.flatMap((r) => [0, 1, 2].map((k) => directions[3 * r + k])));
  const starts = pairs
    .slice(0, TRIED)
    .flatMap(({ a, b, common }) => {
      const some = common.slice(0, MOST_RAYS);
      return relativesOf(of(some.map((c) => c[0])), of(some.map((c) => c[1])))
        .filter((f) => f.missRad < MOST_MISS_RAD)
        .map((f) => ({ a, b, f, worth: common.length * Math.min(usualAngle(some, directions, f.rotation), 0.5) }));
    })
    .sort((p, q) => q.worth - p.worth)
    .slice(0, BEGUN);
  let best: { state: BlockState; oriented: boolean[]; count: number; missRad: number } | undefined;
  for (const { a, b, f } of starts) {
    const own: BlockState = {
      ...state,
      centres: state.centres.slice(),
      rotations: state.rotations.slice(),
      points: state.points.slice(),
    };
    own.centres.set([0, 0, 0], 3 * a);
    own.rotations.set([1, 0, 0, 0, 1, 0, 0, 0, 1], 9 * a);
    own.centres.set(f.direction, 3 * b);
    own.rotations.set(f.rotation, 9 * b);
    const known = oriented.map((_, i) => i === a || i === b);
    const grown = grow(growth, own, known, Math.min(block.images.length, LOOK_AHEAD));
    if (best && (grown.count < best.count || (grown.count === best.count && grown.missRad >= best.missRad))) continue;
    best = { state: own, oriented: known, ...grown };
  }
  if (!best)
    throw new Problem('No two photographs could be oriented by the points that both show.', {
      code: 'block-pair',
      remedy: `Pick at least ${FEWEST_COMMON} points, not all on one line, in two photographs taken from different places.`,
    });
  state.centres.set(best.state.centres);
  state.rotations.set(best.state.rotations);
  best.oriented.forEach((v, i) => (oriented[i] = v));
}

/** Middle angle at which rays of common points meet. */
function usualAngle(common: ReadonlyArray<[number, number]>, d: Float64Array, r: Matrix3): number {
  const all = common.map(([a, b]) => {
    const v = [0, 3, 6].map((k) => r[k] * d[3 * b] + r[k + 1] * d[3 * b + 1] + r[k + 2] * d[3 * b + 2]);
    return Math.acos(Math.min(1, v[0] * d[3 * a] + v[1] * d[3 * a + 1] + v[2] * d[3 * a + 2]));
  });
  return all.sort((x, y) => x - y)[Math.floor(all.length / 2)];
}

/** The picture that is not oriented and sees most known points, with its rays to them. */
function bestKnown(
  { rays }: Block,
  state: BlockState,
  raysOf: readonly number[][],
  oriented: readonly boolean[],
  failed: Int32Array,
): { image: number; rays: number[] } | undefined {
  let best: { image: number; rays: number[] } | undefined;
  raysOf.forEach((list, image) => {
    if (oriented[image]) return;
    const known = list.filter((r) => !Number.isNaN(state.points[3 * rays.point[r]]));
    if (known.length < FEWEST_KNOWN || known.length <= failed[image]) return;
    if (known.length > (best?.rays.length ?? 0)) best = { image, rays: known };
  });
  return best;
}

/** Of the oriented pictures that one which shares most of these points. */
function nearest(
  { rays, images }: Block,
  image: number,
  oriented: readonly boolean[],
  list: readonly number[],
): number {
  const points = new Set(list.map((r) => rays.point[r]));
  const count = new Int32Array(images.length);
  for (let r = 0; r < rays.count; r++) if (oriented[rays.image[r]] && points.has(rays.point[r])) count[rays.image[r]]++;
  let best = image;
  count.forEach((n, i) => {
    if (n > (best === image ? 0 : count[best])) best = i;
  });
  return best;
}

/** Adjusts what is oriented by its ties alone, cameras as they are. */
function settle(block: Block, state: BlockState, oriented: readonly boolean[]): void {
  const kept = block.images.flatMap((_, i) => (oriented[i] ? [i] : []));
  const { block: some } = withImages(block, kept);
  const part: Block = {
    ...some,
    images: some.images.map((i) => ({ ...i, given: undefined })),
    points: block.points.map((p) => ({ name: p.name, kind: 'tie' })),
    distances: [],
  };
  const own: BlockState = {
    cameras: state.cameras,
    centres: Float64Array.from(kept.flatMap((i) => [...state.centres.subarray(3 * i, 3 * i + 3)])),
    rotations: Float64Array.from(kept.flatMap((i) => [...state.rotations.subarray(9 * i, 9 * i + 9)])),
    points: new Float64Array(3 * block.points.length).fill(Number.NaN),
    shifts: new Float64Array(0),
  };
  placePoints(part, { camera: Int32Array.from(part.images, (i) => i.camera) }, own);
  const solver = new Solver(
    part,
    own,
    part.cameras.map(({ camera }) =>
      CAMERA_TERMS.map((t) => camera.model !== 'sphere' && kept.length >= CALIBRATED_FROM && SHAPE.has(t)),
    ),
  );
  for (let r = 0; r < part.rays.count; r++) if (!solver.linear.ahead[r]) solver.alive[r] = 0;
  solver.again();
  solver.improve(15, true, 'nearly');
  kept.forEach((i, k) => {
    state.centres.set(solver.state.centres.subarray(3 * k, 3 * k + 3), 3 * i);
    state.rotations.set(solver.state.rotations.subarray(9 * k, 9 * k + 9), 9 * i);
  });
  state.points.set(solver.state.points);
  state.cameras = solver.state.cameras;
}

/** Moves, turns and stretches a block to where places or control say; without them levels it by its first picture. */
function moveIntoPlace(block: Block, state: BlockState, oriented: readonly boolean[]): void {
  const from: Vector3[] = [];
  const to: Vector3[] = [];
  block.images.forEach(({ given }, i) => {
    if (!given || !oriented[i]) return;
    from.push([...state.centres.subarray(3 * i, 3 * i + 3)] as Vector3);
    to.push([...given.placeM]);
  });
  if (from.length < 3)
    block.points.forEach(({ kind, givenM }, p) => {
      if (kind !== 'control' || !givenM || Number.isNaN(state.points[3 * p])) return;
      from.push([...state.points.subarray(3 * p, 3 * p + 3)] as Vector3);
      to.push([...givenM]);
    });
  if (from.length >= 3) {
    const s = similarity(from, to);
    apply(block, state, s.scale, s.rotation, s.from, s.to);
    return;
  }
  const first = oriented.indexOf(true);
  const r = state.rotations.subarray(9 * first, 9 * first + 9);
  // x to the right, y along the view, z up in the first picture
  const level = Float64Array.of(r[0], r[3], r[6], r[2], r[5], r[8], -r[1], -r[4], -r[7]);
  const kept = block.images.flatMap((_, i) => (oriented[i] ? [i] : []));
  const middle = [0, 1, 2].map((k) => kept.reduce((s, i) => s + state.centres[3 * i + k], 0) / kept.length) as Vector3;
  const known = block.distances.find((d) => d.use === 'scale' && distanceOf(state, d) > 0);
  apply(block, state, known ? known.valueM / distanceOf(state, known) : 1, level, middle, [0, 0, 0]);
}

function apply(block: Block, state: BlockState, scale: number, turn: Matrix3, from: Vector3, to: Vector3): void {
  const move = (v: Float64Array, at: number) => {
    const d = [0, 1, 2].map((k) => v[at + k] - from[k]);
    for (let k = 0; k < 3; k++)
      v[at + k] = to[k] + scale * (turn[3 * k] * d[0] + turn[3 * k + 1] * d[1] + turn[3 * k + 2] * d[2]);
  };
  block.images.forEach((_, i) => {
    move(state.centres, 3 * i);
    state.rotations.set(multiply3(turn, state.rotations.slice(9 * i, 9 * i + 9)), 9 * i);
  });
  block.points.forEach((_, p) => move(state.points, 3 * p));
}

/** Scale, turn and shift that carry places onto others by least squares (Horn 1987). */
export function similarity(
  from: readonly Vector3[],
  to: readonly Vector3[],
): { scale: number; rotation: Matrix3; from: Vector3; to: Vector3 } {
  const mean = (list: readonly Vector3[]) =>
    [0, 1, 2].map((k) => list.reduce((s, v) => s + v[k], 0) / list.length) as Vector3;
  const [a, b] = [mean(from), mean(to)];
  const s = new Float64Array(9);
  let [sizeA, sizeB] = [0, 0];
  from.forEach((p, i) => {
    for (let k = 0; k < 3; k++) {
      sizeA += (p[k] - a[k]) ** 2;
      sizeB += (to[i][k] - b[k]) ** 2;
      for (let j = 0; j < 3; j++) s[3 * k + j] += (p[k] - a[k]) * (to[i][j] - b[j]);
    }
  });
  const [xx, xy, xz, yx, yy, yz, zx, zy, zz] = s;
  const n = Float64Array.of(
    xx + yy + zz,
    yz - zy,
    zx - xz,
    xy - yx,
    yz - zy,
    xx - yy - zz,
    xy + yx,
    zx + xz,
    zx - xz,
    xy + yx,
    -xx + yy - zz,
    yz + zy,
    xy - yx,
    zx + xz,
    yz + zy,
    -xx - yy + zz,
  );
  const [w, x, y, z] = symmetricEigen(n, 4).vectors[0];
  const rotation = Float64Array.of(
    w * w + x * x - y * y - z * z,
    2 * (x * y - w * z),
    2 * (x * z + w * y),
    2 * (x * y + w * z),
    w * w - x * x + y * y - z * z,
    2 * (y * z - w * x),
    2 * (x * z - w * y),
    2 * (y * z + w * x),
    w * w - x * x - y * y + z * z,
  );
  return { scale: Math.sqrt(sizeB / sizeA), rotation, from: a, to: b };
}
