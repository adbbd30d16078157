import { describe, expect, it } from 'vitest';
import { Random } from '../numeric/random';
import { rootMeanSquare } from '../numeric/statistics';
import { type PointSet } from './points';
import { SMOOTH_DEFAULTS, smoothSurfaces } from './smooth';

const random = new Random(4, 'smooth');
const setOf = (points: number[][]): PointSet => ({
  count: points.length,
  origin: [0, 0, 0],
  x: Float64Array.from(points, (p) => p[0]),
  y: Float64Array.from(points, (p) => p[1]),
  z: Float64Array.from(points, (p) => p[2]),
});
const plane = (n: number, noise: number) =>
  Array.from({ length: n }, () => {
    const [x, y] = [random.between(0, 4), random.between(0, 4)];
    return [x, y, 0.3 * x - 0.2 * y + noise * random.normal()];
  });
const off = (s: PointSet, m: ReturnType<typeof smoothSurfaces>, i: number) =>
  (s.z[i] + m.dz[i] - 0.3 * (s.x[i] + m.dx[i]) + 0.2 * (s.y[i] + m.dy[i])) / Math.hypot(1, 0.3, 0.2);

describe('smoothing', () => {
  it('brings the points of a slope nearer to it, along its normal', () => {
    const s = setOf(plane(6000, 0.01));
    const still = { dx: new Float32Array(s.count), dy: new Float32Array(s.count), dz: new Float32Array(s.count) };
    const moved = smoothSurfaces(s, new Uint8Array(s.count), SMOOTH_DEFAULTS);
    expect(moved.moved).toBeGreaterThan(0.98 * s.count);
    const before = rootMeanSquare(Array.from(s.x, (_, i) => off(s, { ...moved, ...still }, i)));
    const after = rootMeanSquare(Array.from(s.x, (_, i) => off(s, moved, i)));
    // a mean of 25 leaves a fifth of the noise; slopes of so few leave a little more
    expect(after).toBeLessThan(0.4 * before);
    for (let i = 0; i < s.count; i += 97) {
      const length = Math.hypot(moved.dx[i], moved.dy[i], moved.dz[i]);
      if (length < 0.004) continue;
      const along = (moved.dx[i] * -0.3 + moved.dy[i] * 0.2 + moved.dz[i]) / Math.hypot(1, 0.3, 0.2);
      expect(Math.abs(along) / length).toBeGreaterThan(0.99);
    }
    expect(moved.rmsM).toBeGreaterThan(0.007);
    expect(moved.mostM).toBeLessThanOrEqual(SMOOTH_DEFAULTS.mostM);
  });

  it('leaves wires, leaves and what stands off a surface where they are', () => {
    const wire = Array.from({ length: 400 }, (_, i) => [10 + i / 50, 10, 6 + 0.005 * random.normal()]);
    const leaves = Array.from({ length: 3000 }, () => [
      20 + random.between(0, 1),
      random.between(0, 1),
      random.between(2, 3),
    ]);
    const ground = plane(6000, 0.005);
    const peg = [2, 2, 0.3 * 2 - 0.2 * 2 + 0.12];
    const s = setOf([...wire, ...leaves, peg, ...ground]);
    const moved = smoothSurfaces(s, new Uint8Array(s.count), SMOOTH_DEFAULTS);
    const still = (from: number, to: number) =>
      Array.from({ length: to - from }, (_, k) => from + k).filter((i) => moved.dz[i] === 0 && moved.dx[i] === 0)
        .length;
    expect(still(0, 400)).toBe(400);
    expect(still(400, 3400)).toBe(3000);
    expect(still(3400, 3401)).toBe(1);
  });

  it('looks past what is left out', () => {
    const s = setOf([...plane(2000, 0.003), ...plane(2000, 0.003).map(([x, y, z]) => [x, y, z + 0.04])]);
    const skip = Uint8Array.from({ length: s.count }, (_, i) => (i < 2000 ? 0 : 1));
    const moved = smoothSurfaces(s, skip, SMOOTH_DEFAULTS);
    expect(moved.dz.subarray(2000).every((v) => v === 0)).toBe(true);
    expect(Math.abs(moved.dz.subarray(0, 2000).reduce((a, b) => a + b, 0) / 2000)).toBeLessThan(0.0005);
  });
});
