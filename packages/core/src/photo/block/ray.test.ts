import { describe, expect, it } from 'vitest';
import { rotationFromAngles } from '../../frames/attitude';
import { multiply3 } from '../../numeric/matrix3';
import { directionOf, Projector, sphereOf, type Camera } from '../camera';
import { CAMERA_TERMS } from './model';
import { AT, RAY, rayOf } from './ray';

const camera: Camera = {
  widthPx: 1200,
  heightPx: 800,
  focalPx: 1480,
  cxPx: 603,
  cyPx: 397,
  k1: -0.04,
  k2: 0.02,
  k3: -0.01,
  p1: 0.0004,
  p2: -0.0003,
};
const rotation = rotationFromAngles(0.1, -0.2, 2.1);
const centre = Float64Array.of(10, -20, 30);
// ahead of the camera, beside its middle
const inCamera = [22, -14, 80];
const point = Float64Array.from(
  centre,
  (c, k) => c + [0, 1, 2].reduce((s, j) => s + rotation[3 * k + j] * inCamera[j], 0),
);
const project = (c: Camera, at: Float64Array, turn: Float64Array, p: Float64Array) => {
  const out = new Float64Array(RAY);
  rayOf(c, at, turn, 0, p, 0, 0, 0, out, 0);
  return [-out[0], -out[1]];
};

describe('a ray', () => {
  const out = new Float64Array(RAY);
  rayOf(camera, centre, rotation, 0, point, 0, 700, 100, out, 0);

  it('meets the picture where its camera puts it', () => {
    const uv = new Float64Array(2);
    new Projector(camera).project(inCamera[0], inCamera[1], inCamera[2], uv);
    expect(out[0]).toBeCloseTo(700 - uv[0], 9);
    expect(out[1]).toBeCloseTo(100 - uv[1], 9);
  });

  it('changes with point, pose and camera by its derivatives', () => {
    const check = (column: number, rows: readonly [number, number], step: number, moved: (s: number) => number[]) => {
      const [plus, minus] = [moved(step), moved(-step)];
      rows.forEach((row, k) => {
        const slope = (plus[k] - minus[k]) / (2 * step);
        expect(out[row + column] / (slope || 1), `${rows[0]} ${column} ${k}`).toBeCloseTo(slope ? 1 : 0, 5);
      });
    };
    for (let k = 0; k < 3; k++) {
      const shifted = (v: Float64Array, s: number) => v.map((x, i) => (i === k ? x + s : x));
      check(k, [AT.point, AT.point + 3], 1e-3, (s) => project(camera, centre, rotation, shifted(point, s)));
      check(k, [AT.pose, AT.pose + 6], 1e-3, (s) => project(camera, shifted(centre, s), rotation, point));
      const turned = (s: number) => {
        const w = [0, 0, 0];
        w[k] = s;
        const small = Float64Array.of(1, -w[2], w[1], w[2], 1, -w[0], -w[1], w[0], 1);
        return multiply3(rotation, small);
      };
      check(3 + k, [AT.pose, AT.pose + 6], 1e-5, (s) => project(camera, centre, turned(s), point));
    }
    CAMERA_TERMS.forEach((term, k) =>
      check(k, [AT.camera, AT.camera + 8], k < 3 ? 0.01 : 1e-4, (s) =>
        project({ ...camera, [term]: camera[term] + s }, centre, rotation, point),
      ),
    );
  });

  it('is refused behind the camera', () => {
    expect(
      rayOf(
        camera,
        centre,
        rotation,
        0,
        centre.map((c, k) => 2 * c - point[k]),
        0,
        0,
        0,
        out,
        0,
      ),
    ).toBe(false);
  });
});

describe('a ray of a full panorama', () => {
  const round = sphereOf(3600, 1800);
  const turn = Float64Array.of(1, 0, 0, 0, 1, 0, 0, 0, 1);
  const here = new Float64Array(3);
  const out = new Float64Array(RAY);

  it('lies a tenth of a degree a pixel from the middle, all round', () => {
    const uv = new Float64Array(2);
    const projector = new Projector(round);
    const at = (x: number, y: number, z: number) => {
      expect(projector.project(x, y, z, uv)).toBe(true);
      return [...uv];
    };
    expect(at(0, 0, 5)).toEqual([1799.5, 899.5]);
    expect(at(3, 0, 0)[0]).toBeCloseTo(2699.5, 9);
    expect(at(-3, 0, 0)[0]).toBeCloseTo(899.5, 9);
    expect(at(0, 2, 0)[1]).toBeCloseTo(1799.5, 9);
    expect(at(1, -Math.SQRT2, 1)).toEqual([expect.closeTo(2249.5, 9), expect.closeTo(449.5, 9)]);
    // straight behind is the seam: columns stay within the picture
    expect(at(1e-12, 0, -1)[0]).toBeLessThan(3599.5);
    expect(at(-1e-12, 0, -1)[0]).toBeGreaterThanOrEqual(-0.5);
  });

  it('comes back from its pixel', () => {
    const uv = new Float64Array(2);
    for (const way of [
      [0.6, 0, 0.8],
      [-0.48, 0.6, -0.64],
      [0.36, -0.8, 0.48],
    ]) {
      new Projector(round).project(way[0], way[1], way[2], uv);
      directionOf(round, uv[0], uv[1]).forEach((v, k) => expect(v).toBeCloseTo(way[k], 12));
    }
  });

  it('misses by angles of the sphere, also over the seam', () => {
    // 60° down, two pixels beside: on a circle half as long
    const low = Float64Array.of(0, Math.sqrt(3), 1);
    rayOf(round, here, turn, 0, low, 0, 1801.5, 1499.5, out, 0);
    expect(out[0]).toBeCloseTo(1, 9);
    expect(out[1]).toBeCloseTo(0, 9);
    const behind = Float64Array.of(0.001, 0, -10);
    rayOf(round, here, turn, 0, behind, 0, 0.5, 899.5, out, 0);
    expect(out[0]).toBeCloseTo(1 + (0.0001 * 1800) / Math.PI, 5);
  });

  it('changes with point and pose by its derivatives', () => {
    const at = Float64Array.of(-2, 1.5, -3);
    const of = (c: Float64Array, r: Float64Array, p: Float64Array) => {
      const o = new Float64Array(RAY);
      rayOf(round, c, r, 0, p, 0, 500, 1100, o, 0);
      return [-o[0], -o[1]];
    };
    const own = rotationFromAngles(0.2, -0.1, 0.7);
    rayOf(round, here, own, 0, at, 0, 500, 1100, out, 0);
    const step = 1e-6;
    for (let k = 0; k < 3; k++) {
      const by = (s: number) => at.map((v, i) => (i === k ? v + s : v));
      const small = (s: number) => {
        const w = [0, 0, 0];
        w[k] = s;
        return multiply3(own, Float64Array.of(1, -w[2], w[1], w[2], 1, -w[0], -w[1], w[0], 1));
      };
      const [p, m] = [of(here, own, by(step)), of(here, own, by(-step))];
      const [tp, tm] = [of(here, small(step), at), of(here, small(-step), at)];
      for (let row = 0; row < 2; row++) {
        const [slope, turned] = [(p[row] - m[row]) / (2 * step), (tp[row] - tm[row]) / (2 * step)];
        expect(out[AT.point + 3 * row + k]).toBeCloseTo(slope, 3);
        expect(out[AT.pose + 6 * row + k]).toBeCloseTo(-slope, 3);
        expect(out[AT.pose + 6 * row + 3 + k]).toBeCloseTo(turned, 3);
      }
    }
  });
});
