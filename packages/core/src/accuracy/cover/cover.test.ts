import { describe, expect, it } from 'vitest';
import { squaredDistances } from './distance';
import { CoverageCounter, coverageGrid } from './grid';
import { COVERAGE_DEFAULTS, judgeCoverage } from './judge';
import { SpacingSample } from './spacing';

/** Points on a plane z = slope × x at a spacing in plan, where `keep` lets them. */
function lattice(counter: CoverageCounter, spacing: number, slope: number, keep: (x: number, y: number) => boolean) {
  const { minX, minY, columns, rows, cellM } = counter.grid;
  for (let i = 0; (i + 0.5) * spacing < columns * cellM; i++)
    for (let j = 0; (j + 0.5) * spacing < rows * cellM; j++) {
      const [x, y] = [minX + (i + 0.5) * spacing, minY + (j + 0.5) * spacing];
      if (keep(x, y)) counter.add(x, y, slope * x, 0.01 + (x > 10 ? 0.02 : 0));
    }
}
const settings = { ...COVERAGE_DEFAULTS, targetPerM2: 20 };

describe('coverage', () => {
  it('measures distances to marked cells exactly', () => {
    const [w, h] = [23, 17];
    const marked = new Uint8Array(w * h);
    for (const k of [5, 40, 111, 300, 301, 388]) marked[k] = 1;
    const found = squaredDistances(marked, w, h);
    for (let k = 0; k < w * h; k++) {
      let least = Infinity;
      for (let m = 0; m < w * h; m++)
        if (marked[m]) least = Math.min(least, ((k % w) - (m % w)) ** 2 + (Math.floor(k / w) - Math.floor(m / w)) ** 2);
      expect(found[k]).toBe(least);
    }
  });

  it('finds a rectangular hole with its area, its width and its place', () => {
    const counter = new CoverageCounter(coverageGrid([0, 0, 29.9, 19.9], 1));
    // 5 by 8 metres, and a second of one cell
    lattice(counter, 0.2, 0, (x, y) => !(x > 12 && x < 17 && y > 6 && y < 14) && !(x > 3 && x < 4 && y > 3 && y < 4));
    const c = judgeCoverage(counter, settings, () => true);
    expect(c.areaM2).toBe(600);
    expect(c.coveredM2).toBe(600 - 41);
    expect([c.voidCount, c.voids.length, c.voidM2]).toEqual([2, 1, 41]);
    expect(c.voids[0]).toMatchObject({ areaM2: 40, widthM: 5, x: 14.5, atEdge: false });
    expect(c.voids[0].y).toBeGreaterThan(8);
    expect(c.voids[0].y).toBeLessThan(12);
    expect(c.median).toBeCloseTo(25, 6);
    expect(c.belowShare).toBeCloseTo(41 / 600, 6);
  });

  it('counts points per square metre of the slope, not of its plan', () => {
    const counter = new CoverageCounter(coverageGrid([0, 0, 9.9, 9.9], 1));
    lattice(counter, 0.2, Math.tan(Math.PI / 3), () => true);
    const c = judgeCoverage(counter, settings, () => true);
    // 25 in plan on a slope of 60° are 12.5 on the slope
    expect(c.median).toBeCloseTo(12.5, 4);
    expect(c.steep.areaM2).toBe(100);
    expect([c.belowShare, c.steep.belowShare]).toEqual([1, 1]);
  });

  it('takes the area from the points when none is given: gaps are closed, what lies outside is not', () => {
    const counter = new CoverageCounter(coverageGrid([0, 0, 39.9, 39.9], 1));
    // a U whose arms are 20 m apart, with a gap of 4 m in one of them
    const inU = (x: number, y: number) => x < 10 || x > 30 || y < 10;
    lattice(counter, 0.5, 0, (x, y) => inU(x, y) && !(x < 10 && y > 24 && y < 28));
    const c = judgeCoverage(counter, { ...settings, closeM: 5 });
    expect(c.voidM2).toBeGreaterThan(30);
    expect(c.voidM2).toBeLessThanOrEqual(40 + 2 * 25);
    const at = (x: number, y: number) => c.area[counter.cellAt(x, y)];
    expect([at(5.5, 26.5), at(20.5, 30.5), at(20.5, 5.5)]).toEqual([1, 0, 1]);
  });

  it('keeps what lies outside the ordered area out of every figure', () => {
    const counter = new CoverageCounter(coverageGrid([0, 0, 19.9, 19.9], 1));
    lattice(counter, 0.2, 0, (x) => x < 15);
    const c = judgeCoverage(counter, settings, (x) => x < 18);
    expect(c.areaM2).toBe(360);
    expect(c.voids).toEqual([expect.objectContaining({ areaM2: 60, atEdge: true })]);
    expect(c.precision.median).toBeCloseTo(0.01, 6);
    expect(c.precision.p95).toBeCloseTo(0.03, 6);
    expect(Number.isNaN(c.perM2[counter.cellAt(19, 5)])).toBe(true);
  });

  it('refuses grids that no memory holds, with the cell that would do', () => {
    expect(() => coverageGrid([0, 0, 1e6, 1e6], 1)).toThrow(
      expect.objectContaining({ remedy: expect.stringContaining('500') }),
    );
  });

  it('says how far points lie from each other in space', () => {
    const counter = new CoverageCounter(coverageGrid([0, 0, 11.9, 11.9], 1));
    lattice(counter, 0.25, 1, () => true);
    const sample = new SpacingSample(counter.grid, counter.count, new Uint8Array(144).fill(1));
    for (let i = 0; i < 48; i++)
      for (let j = 0; j < 48; j++) {
        const [x, y] = [(i + 0.5) / 4, (j + 0.5) / 4];
        sample.add(counter.cellAt(x, y), x, y, x);
      }
    const { medianM, p95M, points } = sample.finish();
    expect(medianM).toBeCloseTo(0.25, 9);
    expect(p95M).toBeCloseTo(0.25, 9);
    expect(points).toBeGreaterThan(1000);
  });
});
