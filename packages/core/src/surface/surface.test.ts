import { describe, expect, it } from 'vitest';
import { Random } from '../numeric';
import {
  contoursOfGrid,
  emptyGrid,
  fillNear,
  gridFromTin,
  gridHeightAt,
  hillShade,
  makeTin,
  summariseGrid,
  TinWalker,
} from '.';

const random = new Random(11);
const n = 4000;
const x = Float64Array.from({ length: n }, () => random.between(0, 50));
const y = Float64Array.from({ length: n }, () => random.between(0, 40));
const z = Float64Array.from({ length: n }, (_, i) => 3 + 0.2 * x[i] - 0.1 * y[i]);

describe('TIN', () => {
  const tin = makeTin(x, y, z);
  it('gives the plane back everywhere inside', () => {
    const walker = new TinWalker(tin);
    for (let i = 0; i < 500; i++) {
      const px = random.between(2, 48),
        py = random.between(2, 38);
      expect(walker.heightAt(px, py)).toBeCloseTo(3 + 0.2 * px - 0.1 * py, 9);
    }
    expect(walker.heightAt(-10, 20)).toBeNaN();
    expect(walker.locate(70, 70)).toBe(-1);
  });
  it('leaves triangles with long edges out', () => {
    const hx: number[] = [],
      hy: number[] = [];
    for (let i = 0; i <= 20; i++)
      for (let j = 0; j <= 20; j++) if (Math.hypot(i - 10, j - 10) > 4) (hx.push(i), hy.push(j));
    const holed = makeTin(Float64Array.from(hx), Float64Array.from(hy), new Float64Array(hx.length), 2);
    const walker = new TinWalker(holed);
    expect(walker.heightAt(10, 10)).toBeNaN();
    expect(walker.heightAt(2.3, 2.4)).toBe(0);
    const grid = gridFromTin(holed, 0, 0, 1);
    expect(grid.heightM[Math.floor(9.5) * grid.columns + 10]).toBeNaN();
  });
  it('refuses what is no surface', () => {
    expect(() => makeTin(Float64Array.of(0, 1), Float64Array.of(0, 1), Float64Array.of(0, 0))).toThrow(/three points/);
    expect(() => makeTin(Float64Array.of(0, 1, 2), Float64Array.of(0, 1, 2), Float64Array.of(0, 0, 0))).toThrow(
      /one line/,
    );
  });
});

describe('grid', () => {
  const grid = gridFromTin(makeTin(x, y, z), 467000.3, 6215000.7, 0.5);
  it('has edges on whole multiples and values at centres', () => {
    expect(grid.westM % 0.5).toBe(0);
    expect(grid.northM % 0.5).toBe(0);
    const e = grid.westM + 20.25,
      m = grid.northM - 20.25;
    const value = grid.heightM[40 * grid.columns + 40];
    expect(value).toBeCloseTo(3 + 0.2 * (e - 467000.3) - 0.1 * (m - 6215000.7), 5);
    expect(gridHeightAt(grid, 467025, 6215020)).toBeCloseTo(3 + 0.2 * 24.7 - 0.1 * 19.3, 5);
  });
  it('refuses more cells than can be held', () => {
    expect(() => emptyGrid(0, 0, 1e6, 1e6, 0.1)).toThrow(/cells/);
    expect(() => emptyGrid(0, 0, 1, 1, 0)).toThrow(/cell/);
  });
  it('shades an even slope evenly', () => {
    const shade = hillShade(grid);
    const inside = [30, 40, 50].map((r) => shade[r * grid.columns + 50]);
    expect(new Set(inside).size).toBe(1);
  });
});

describe('contours', () => {
  it('of a cone are circles of the right radius, closed', () => {
    const cone = emptyGrid(-20, -20, 20, 20, 0.25);
    for (let r = 0; r < cone.rows; r++)
      for (let c = 0; c < cone.columns; c++)
        cone.heightM[r * cone.columns + c] =
          10 - Math.hypot(cone.westM + (c + 0.5) * 0.25, cone.northM - (r + 0.5) * 0.25);
    const lines = contoursOfGrid(cone, 1).filter((l) => l.heightM >= 1 && l.heightM <= 8);
    expect(lines.map((l) => l.heightM)).toEqual([1, 2, 3, 4, 5, 6, 7, 8]);
    for (const line of lines) {
      const k = line.coordinates;
      expect([k[0], k[1]]).toEqual([k[k.length - 2], k[k.length - 1]]);
      for (let i = 0; i < k.length; i += 2)
        expect(Math.abs(Math.hypot(k[i], k[i + 1]) - (10 - line.heightM))).toBeLessThan(0.02);
      expect(line.index).toBe(line.heightM % 5 === 0);
    }
  });
  it('end at empty cells', () => {
    const plane = emptyGrid(0, 0, 10, 10, 1);
    for (let r = 0; r < 10; r++) for (let c = 0; c < 10; c++) plane.heightM[r * 10 + c] = r === 5 ? Number.NaN : c;
    expect(contoursOfGrid(plane, 2).filter((l) => l.heightM === 4)).toHaveLength(2);
    expect(summariseGrid(plane)).toMatchObject({ cells: 100, emptyCells: 10, minM: 0, maxM: 9 });
  });
});

describe('holes near points', () => {
  // a plane seen but for a pond of 12 m across and a corner
  const seen: Array<[number, number]> = [];
  for (let e = 0.25; e < 40; e += 0.5)
    for (let m = 0.25; m < 40; m += 0.5)
      if (Math.hypot(e - 20, m - 20) > 6 && !(e > 25 && m > 25 && e + m > 68)) seen.push([e, m]);
  const plane = (e: number, m: number) => 7 + 0.3 * e - 0.2 * m;
  const px = Float64Array.from(seen, (p) => p[0]);
  const py = Float64Array.from(seen, (p) => p[1]);
  const tin = makeTin(
    px,
    py,
    Float64Array.from(seen, (p) => plane(...p)),
    3,
  );

  it('are filled as far as they lie from points, on the plane of the land, between points and beyond them', () => {
    const grid = gridFromTin(tin, 0, 0, 0.5);
    const empty = summariseGrid(grid).emptyCells;
    const { bridged, beyond } = fillNear(grid, tin, 0, 0, 3);
    expect(bridged).toBeGreaterThan(50);
    expect(beyond).toBeGreaterThan(50);
    expect(summariseGrid(grid).emptyCells).toBe(empty - bridged - beyond);
    let farthest = 0;
    for (let r = 0; r < grid.rows; r++)
      for (let c = 0; c < grid.columns; c++) {
        const [e, m] = [grid.westM + (c + 0.5) * 0.5, grid.northM - (r + 0.5) * 0.5];
        const z = grid.heightM[r * grid.columns + c];
        const far = Math.min(...seen.map((p) => Math.hypot(p[0] - e, p[1] - m)));
        if (Number.isNaN(z)) expect(far).toBeGreaterThan(3);
        else {
          expect(z).toBeCloseTo(plane(e, m), 4);
          farthest = Math.max(farthest, far);
        }
      }
    expect(farthest).toBeLessThan(3.6);
  });

  it('stay where no points are near', () => {
    const grid = gridFromTin(tin, 0, 0, 0.5);
    const middle = Math.floor(grid.rows / 2) * grid.columns + Math.floor(grid.columns / 2);
    fillNear(grid, tin, 0, 0, 1);
    expect(grid.heightM[middle]).toBeNaN();
    fillNear(grid, tin, 0, 0, 8);
    expect(grid.heightM[middle]).toBeCloseTo(plane(20.25, 19.75), 4);
  });
});
