import { describe, expect, it } from 'vitest';
import { rotationFromAngles } from '../../frames/attitude';
import { multiply3 } from '../../numeric/matrix3';
import { Projector, type Camera } from '../camera';
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
