import { describe, expect, it } from 'vitest';
import { Random } from '../../numeric';
import { fillHoles, gridSoundings, soundingSpacingM, type GriddedSoundings } from '.';

const of = (rows: number[][], sd = true): GriddedSoundings => ({
  eastingM: Float64Array.from(rows, (r) => r[0]),
  northingM: Float64Array.from(rows, (r) => r[1]),
  heightM: Float64Array.from(rows, (r) => r[2]),
  ...(sd ? { sdHM: Float32Array.from(rows, (r) => r[3] ?? 0.1) } : {}),
  gpsS: Float64Array.from(rows, (_, i) => 100 + i),
});
/** Three in one cell, one in the next but one; cells of a metre. */
const FEW = [
  [10.2, 20.3, -5.0, 0.1],
  [10.7, 20.9, -5.4, 0.2],
  [10.4, 20.1, -4.9, 0.4],
  [12.5, 20.5, -6.0, 0.3],
];

describe('soundings in cells', () => {
  it('give the shoalest, the median, the mean, or the mean by weight', () => {
    const value = (method: 'shoalest' | 'median' | 'mean' | 'weighted') =>
      gridSoundings(of(FEW), 1, method).grid.heightM[0];
    expect(value('shoalest')).toBeCloseTo(-4.9, 6);
    expect(value('median')).toBeCloseTo(-5, 6);
    expect(value('mean')).toBeCloseTo(-5.1, 6);
    // weights 100, 25, 6.25
    expect(value('weighted')).toBeCloseTo((-500 - 135 - 30.625) / 131.25, 6);
  });

  it('have count, spread, stated deviation and age; edges lie on whole cells', () => {
    const g = gridSoundings(of(FEW), 1, 'weighted');
    expect([g.grid.westM, g.grid.northM, g.grid.columns, g.grid.rows]).toEqual([10, 21, 3, 1]);
    expect([...g.count]).toEqual([3, 0, 1]);
    expect(g.spreadM[0]).toBeCloseTo(Math.sqrt((0.1 ** 2 + 0.3 ** 2 + 0.2 ** 2) / 2), 6);
    expect([g.spreadM[1], g.sdM[1], g.latestS[1], g.grid.heightM[1]]).toEqual([NaN, NaN, NaN, NaN]);
    expect(g.spreadM[2]).toBeCloseTo(0.3, 6);
    expect(g.sdM[0]).toBeCloseTo(1 / Math.sqrt(131.25), 6);
    expect([...g.latestS.slice(0, 3)]).toEqual([102, NaN, 103]);
    expect(gridSoundings(of(FEW), 1, 'mean').sdM[0]).toBeCloseTo(Math.sqrt(0.01 + 0.04 + 0.16) / 3, 6);
    expect(gridSoundings(of(FEW, false), 1, 'mean').sdM[0]).toBeNaN();
  });

  it('err as much as they state', () => {
    const random = new Random(4, 'cells');
    for (const [method, factor] of [
      ['mean', 1],
      ['weighted', 1],
      ['median', 1],
    ] as const) {
      let [sum, cells] = [0, 0];
      const rows: number[][] = [];
      for (let c = 0; c < 3000; c++)
        for (let k = 0; k < 9; k++) {
          const sd = method === 'weighted' ? 0.05 + 0.2 * random.uniform() : 0.1;
          rows.push([c + random.uniform(), random.uniform(), -4 + sd * random.normal(), sd]);
        }
      const g = gridSoundings(of(rows), 1, method);
      for (let c = 0; c < g.count.length; c++)
        if (g.count[c] === 9) {
          sum += ((g.grid.heightM[c] + 4) / g.sdM[c]) ** 2;
          cells++;
        }
      const rms = Math.sqrt(sum / cells);
      expect([method, rms > 0.93 * factor && rms < 1.07 * factor, rms]).toEqual([method, true, rms]);
    }
  });

  it('are as far apart as they lie', () => {
    const rows: number[][] = [];
    for (let i = 0; i < 100; i++) for (let j = 0; j < 80; j++) rows.push([0.5 * i, 0.5 * j, 0]);
    expect(soundingSpacingM(of(rows))).toBeGreaterThan(0.45);
    expect(soundingSpacingM(of(rows))).toBeLessThan(0.55);
    // the same in two strips far apart
    const apart = rows.map(([x, y, z]) => [x < 25 ? x : x + 400, y, z]);
    expect(soundingSpacingM(of(apart))).toBeLessThan(0.75);
  });
});

describe('holes', () => {
  /** A slope with a hole four cells wide in the middle. */
  const slope = () => {
    const rows: number[][] = [];
    for (let x = 0; x < 20; x++)
      for (let y = 0; y < 20; y++)
        if (!(x >= 8 && x < 12 && y >= 8 && y < 12)) rows.push([x + 0.5, y + 0.5, -5 - 0.1 * x + 0.05 * y]);
    return gridSoundings(of(rows), 1, 'mean');
  };

  it('are filled along what lies around them, marked, and never beyond the rim', () => {
    const g = slope();
    expect(fillHoles(g, 4)).toBe(16);
    for (let at = 0; at < g.filled.length; at++) {
      const [c, r] = [at % g.grid.columns, Math.floor(at / g.grid.columns)];
      const truth = -5 - 0.1 * c + 0.05 * (19 - r);
      expect(g.grid.heightM[at]).toBeCloseTo(truth, 5);
      expect(g.filled[at]).toBe(g.count[at] === 0 ? 1 : 0);
    }
    const rim = gridSoundings(
      of([
        [0.5, 0.5, 1],
        [9.5, 9.5, 1],
      ]),
      1,
      'mean',
    );
    expect(fillHoles(rim, 3)).toBe(0);
  });

  it('stay where they are wider than allowed', () => {
    expect(fillHoles(slope(), 0)).toBe(0);
    const g = slope();
    // from the middle of the hole two cells to one side, three to the other
    expect(fillHoles(g, 2)).toBeLessThan(16);
    expect(Number.isNaN(g.grid.heightM[9 * 20 + 9])).toBe(true);
  });
});
