import { describe, expect, it } from 'vitest';
import { Cholesky } from '../../numeric/cholesky';
import { Random } from '../../numeric/random';
import { type Camera } from '../camera';
import { layoutOf } from './layout';
import { CAMERA_TERMS, startOf, TERMS, type Block, type BlockPoint } from './model';
import { linearise, Normals } from './normals';
import { AT, RAY } from './ray';
import { movePoints } from './step';

const camera: Camera = {
  model: 'frame',
  widthPx: 2000,
  heightPx: 1500,
  focalPx: 1600,
  cxPx: 1000,
  cyPx: 750,
  k1: -0.02,
  k2: 0.01,
  k3: 0,
  p1: 0.0004,
  p2: -0.0002,
};
const sd = Object.fromEntries(CAMERA_TERMS.map((t) => [t, t.endsWith('Px') ? 5 : 0.02])) as Block['cameras'][0]['sd'];

/** Four pictures by two cameras from above, with points that all of them see; one picture sees one point twice. */
function drawn(): Block {
  const r = new Random(3, 'eliminate');
  const images = Array.from({ length: 4 }, (_, i) => ({
    name: `${i}`,
    camera: i % 2,
    centreM: [12 * i, r.between(-2, 2), 60 + r.between(-2, 2)] as [number, number, number],
    rotation: Float64Array.of(1, 0, 0, 0, -1, 0, 0, 0, -1),
  }));
  const points: BlockPoint[] = Array.from({ length: 14 }, (_, p) => {
    const place: [number, number, number] = [r.between(10, 26), r.between(-12, 12), r.between(-3, 3)];
    return { name: `${p}`, kind: p < 3 ? 'control' : 'tie', givenM: place, sdM: [0.02, 0.03, 0.05] };
  });
  const seen = points.flatMap((_, p) => images.map((__, i) => ({ i, p })));
  seen.push({ i: 2, p: 5 });
  return {
    cameras: [0, 1].map((c) => ({ name: `${c}`, camera, sd })),
    images,
    points,
    rays: {
      count: seen.length,
      image: Int32Array.from(seen, (s) => s.i),
      point: Int32Array.from(seen, (s) => s.p),
      uPx: Float64Array.from(
        seen,
        ({ i, p }) => 1000 + (1600 * (points[p].givenM![0] - images[i].centreM[0])) / 60 + r.normal(),
      ),
      vPx: Float64Array.from(
        seen,
        ({ i, p }) => 750 - (1600 * (points[p].givenM![1] - images[i].centreM[1])) / 60 + r.normal(),
      ),
      sdPx: Float64Array.from(seen, () => r.between(0.5, 1.5)),
    },
    distances: [{ from: 8, to: 9, valueM: 7, sdM: 0.01, use: 'scale' }],
  };
}

describe('equations with the points eliminated', () => {
  const block = drawn();
  const state = startOf(block);
  block.points.forEach((p, k) =>
    state.points.set(
      p.givenM!.map((v) => v + 0.1),
      3 * k,
    ),
  );
  const images = { camera: Int32Array.from(block.images, (i) => i.camera) };
  // some terms of the second camera are held, in the middle and at the end
  const free = [CAMERA_TERMS.map(() => true), CAMERA_TERMS.map((t) => t !== 'k1' && t !== 'p2')];
  const layout = layoutOf(block, state, free, () => true);
  const linear = linearise(block, images, state);
  const weights = {
    ray: block.rays.sdPx.map((v) => 1 / v ** 2),
    place: new Float64Array(4),
    point: new Float64Array(14).fill(1),
    distance: new Float64Array(1).fill(1),
  };
  const normals = new Normals(block, images, layout);
  normals.fill(linear, state, weights, 0);
  const factor = normals.matrix.copy();
  expect(factor.factor()).toBe(true);
  const x = factor.solve(normals.right);

  // the whole equations, points and all, row by row of the observations
  const own = (p: number) => (layout.pointAt[p] >= 0 ? layout.pointAt[p] : layout.size + 3 * p);
  const n = layout.size + 3 * block.points.length;
  const whole = new Float64Array(n * n);
  const right = new Float64Array(n);
  const row = (w: number, off: number, terms: Array<[number, number]>) => {
    for (const [a, va] of terms) {
      right[a] += w * va * off;
      for (const [b, vb] of terms) whole[a * n + b] += w * va * vb;
    }
  };
  for (let r = 0; r < block.rays.count; r++)
    for (let k = 0; k < 2; k++) {
      const j = linear.values.subarray(RAY * r, RAY * (r + 1));
      const image = block.rays.image[r];
      const terms: Array<[number, number]> = [];
      for (let a = 0; a < 3; a++) terms.push([own(block.rays.point[r]) + a, j[AT.point + 3 * k + a]]);
      for (let a = 0; a < 6; a++) terms.push([layout.imageAt[image] + a, j[AT.pose + 6 * k + a]]);
      for (let a = 0; a < TERMS; a++) {
        const column = layout.termAt[TERMS * images.camera[image] + a];
        if (column >= 0) terms.push([column, j[AT.camera + TERMS * k + a]]);
      }
      row(weights.ray[r], j[k], terms);
    }
  block.points.forEach(({ kind, givenM, sdM }, p) => {
    for (let k = 0; k < 3; k++) {
      if (kind === 'control') row(1 / sdM![k] ** 2, givenM![k] - state.points[3 * p + k], [[own(p) + k, 1]]);
      // places of points that stay in the equations stand elsewhere
      if (layout.pointAt[p] >= 0) whole[(layout.size + 3 * p + k) * (n + 1)] = 1;
    }
  });
  const [from, to] = [8, 9].map((p) => state.points.subarray(3 * p, 3 * p + 3));
  const way = [0, 1, 2].map((k) => to[k] - from[k]);
  const length = Math.hypot(...way);
  row(
    1 / 0.01 ** 2,
    7 - length,
    way.flatMap((v, k): Array<[number, number]> => [
      [own(8) + k, -v / length],
      [own(9) + k, v / length],
    ]),
  );
  layout.termAt.forEach((column, k) => {
    if (column >= 0) row(1 / sd[CAMERA_TERMS[k % TERMS]] ** 2, 0, [[column, 1]]);
  });
  const truth = Cholesky.of(whole, n)!.solve(right);

  it('have the solution of the whole ones, also where a picture sees a point twice', () => {
    for (let i = 0; i < layout.size; i++) expect(x[i] / truth[i]).toBeCloseTo(1, 5);
    const moved = state.points.slice();
    movePoints(moved, layout.points, block, images, normals, linear, weights, x);
    block.points.forEach((_, p) => {
      if (layout.pointAt[p] >= 0) return;
      for (let k = 0; k < 3; k++)
        expect(moved[3 * p + k] - state.points[3 * p + k]).toBeCloseTo(truth[layout.size + 3 * p + k], 7);
    });
  });

  it('say by how much the whole step lowers the sum of squares', () => {
    let gain = 0;
    for (let i = 0; i < n; i++) gain += truth[i] * right[i];
    expect(normals.gain(x) / gain).toBeCloseTo(1, 8);
  });
});
