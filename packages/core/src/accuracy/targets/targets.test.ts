import { describe, expect, it } from 'vitest';
import { Random } from '../../numeric/random';
import {
  fitCorner,
  fitSphere,
  fitTwoTone,
  type BrightPoints,
  type FoundCorner,
  type FoundSphere,
  type FoundTarget,
} from '.';

/** Points as a scanner leaves them on a road with a painted target, noise in place and in brightness. */
function target(random: Random, x: number, y: number, turnDeg: number, perM2: number): BrightPoints {
  const n = Math.round(4 * perM2);
  const out = { dx: new Float64Array(n), dy: new Float64Array(n), brightness: new Float64Array(n) };
  const c = Math.cos((turnDeg * Math.PI) / 180);
  const s = Math.sin((turnDeg * Math.PI) / 180);
  for (let i = 0; i < n; i++) {
    const px = random.between(-1, 1);
    const py = random.between(-1, 1);
    const u = c * (px - x) + s * (py - y);
    const v = c * (py - y) - s * (px - x);
    const on = Math.abs(u) < 0.3 && Math.abs(v) < 0.3;
    out.brightness[i] = (on ? (u * v >= 0 ? 40000 : 4000) : 14000) + 2500 * random.normal();
    out.dx[i] = px + 0.008 * random.normal();
    out.dy[i] = py + 0.008 * random.normal();
  }
  return out;
}

describe('two-tone targets', () => {
  it('are found where they are, as well as is stated', () => {
    const random = new Random(11, 'targets');
    let squares = 0;
    let worst = 0;
    let turns = 0;
    const runs = 25;
    for (let k = 0; k < runs; k++) {
      const x = random.between(-0.25, 0.25);
      const y = random.between(-0.25, 0.25);
      const turn = random.between(-44, 44);
      const found = fitTwoTone(target(random, x, y, turn, 400), { edgeM: 0.6, searchM: 0.5 }) as FoundTarget;
      expect(found).not.toBeTypeOf('string');
      squares += ((found.dxM - x) / found.sdXM) ** 2 + ((found.dyM - y) / found.sdYM) ** 2;
      worst = Math.max(worst, Math.hypot(found.dxM - x, found.dyM - y));
      const off = Math.abs(found.turnDeg - turn) % 90;
      turns += Math.min(off, 90 - off) ** 2;
      expect(found.light).toBeGreaterThan(30000);
    }
    // 50 normalised errors: their RMS is 1 within a third
    const rms = Math.sqrt(squares / (2 * runs));
    expect(rms).toBeGreaterThan(0.7);
    expect(rms).toBeLessThan(1.35);
    expect(worst).toBeLessThan(0.03);
    expect(Math.sqrt(turns / runs)).toBeLessThan(3);
  });

  it('are not found where there is none', () => {
    const random = new Random(5, 'none');
    const plain = target(random, 5, 5, 0, 400);
    expect(fitTwoTone(plain, { edgeM: 0.6, searchM: 0.4 })).toContain('no pattern');
    expect(fitTwoTone(target(random, 0, 0, 0, 12), { edgeM: 0.6, searchM: 0.4 })).toContain('fewer than 20');
  });
});

describe('spheres and corners', () => {
  it('a sphere seen from one side among other points', () => {
    const random = new Random(6, 'sphere');
    let squares = 0;
    const runs = 40;
    for (let k = 0; k < runs; k++) {
      const c = [random.between(-1, 1), random.between(-1, 1), 1.5];
      const points: number[][] = [];
      while (points.length < 200) {
        const d = [random.normal(), random.normal(), random.normal()];
        const r = Math.hypot(...d);
        // the side towards the scanner, south of it
        if (d[1] > -0.1 * r) continue;
        const at = 0.0725 + 0.002 * random.normal();
        points.push(d.map((v, i) => c[i] + (v / r) * at));
      }
      for (let i = 0; i < 40; i++)
        points.push([c[0] + random.normal() * 0.02, c[1] + random.normal() * 0.02, c[2] - 0.3]);
      const column = (i: number) => Float64Array.from(points, (p) => p[i]);
      const found = fitSphere(column(0), column(1), column(2), 0.0725, [
        c[0] + 0.03,
        c[1] - 0.03,
        c[2] + 0.02,
      ]) as FoundSphere;
      expect(found).not.toBeTypeOf('string');
      for (let i = 0; i < 3; i++) squares += ((found.center[i] - c[i]) / found.sd[i]) ** 2;
    }
    const rms = Math.sqrt(squares / (3 * runs));
    expect(rms).toBeGreaterThan(0.75);
    expect(rms).toBeLessThan(1.25);
    expect(fitSphere(new Float64Array(5), new Float64Array(5), new Float64Array(5), 0.1, [0, 0, 0])).toContain('only');
  });

  it('the corner of three walls that do not stand square', () => {
    const random = new Random(8, 'corner');
    const at = [2, -1, 3];
    const axes = [
      [1, 0.1, 0],
      [-0.1, 1, 0.05],
      [0, 0.02, 1],
    ];
    const points: number[][] = [];
    for (const [i, j] of [
      [0, 1],
      [1, 2],
      [0, 2],
    ])
      for (let k = 0; k < 300; k++) {
        const [a, b] = [random.uniform(), random.uniform()];
        points.push(at.map((v, q) => v + a * axes[i][q] + b * axes[j][q] + 0.002 * random.normal()));
      }
    const column = (i: number) => Float64Array.from(points, (p) => p[i]);
    const found = fitCorner(column(0), column(1), column(2), 0.008) as FoundCorner;
    for (let k = 0; k < 3; k++) {
      expect(Math.abs(found.at[k] - at[k])).toBeLessThan(3.5 * found.sd[k]);
      expect(found.sd[k]).toBeLessThan(0.002);
    }
    const flat = fitCorner(
      column(0),
      column(1),
      new Float64Array(points.length).map(() => 0.001 * random.normal()),
      0.01,
    );
    expect(flat).toContain('only 1 planes');
  });
});
