import { describe, expect, it } from 'vitest';
import { Random } from '../numeric';
import { cellsForTiles, planTiles, tilesAt } from './tiles';

/** Points crowded in one corner of a square of 1000. */
function cloud(count: number): { x: number[]; y: number[] } {
  const random = new Random(3);
  const x: number[] = [];
  const y: number[] = [];
  for (let i = 0; i < count; i++) {
    const crowded = random.uniform() < 0.5;
    x.push(467100 + random.uniform() * (crowded ? 60 : 900));
    y.push(6214050 + random.uniform() * (crowded ? 60 : 900));
  }
  return { x, y };
}

function planned(buffer: number, cap: number, edge = 500) {
  const { x, y } = cloud(20_000);
  const cells = cellsForTiles(edge, { west: 467100, south: 6214050, east: 468000, north: 6214950 });
  const counts = new Float64Array(cells.columns * cells.rows);
  x.forEach((v, i) => {
    counts[Math.floor((y[i] - cells.south) / cells.cell) * cells.columns + Math.floor((v - cells.west) / cells.cell)]++;
  });
  return { x, y, cells, plan: planTiles({ ...cells, counts }, edge, buffer, cap) };
}

describe('tiles under a cap', () => {
  it('hold every point once and the neighbours within the buffer, never more than the cap', () => {
    const buffer = 7;
    const { x, y, cells, plan } = planned(buffer, 3000);
    expect(plan.overCap).toEqual([]);
    const own = new Array<number>(plan.tiles.length).fill(0);
    const all = new Array<number>(plan.tiles.length).fill(0);
    const found: number[] = [];
    for (let i = 0; i < x.length; i++) {
      tilesAt(plan, cells, buffer, x[i], y[i], found);
      own[found[0]]++;
      for (const t of found) all[t]++;
      // told by each tile's bounds
      const wanted = plan.tiles.flatMap((t, k) =>
        x[i] >= t.west - buffer &&
        x[i] < t.west + t.edge + buffer &&
        y[i] >= t.south - buffer &&
        y[i] < t.south + t.edge + buffer
          ? [k]
          : [],
      );
      expect([...found].sort((a, b) => a - b)).toEqual(wanted);
    }
    expect(own.reduce((a, b) => a + b)).toBe(20_000);
    plan.tiles.forEach((t, k) => {
      expect(own[k]).toBe(t.own);
      expect(all[k]).toBeLessThanOrEqual(t.most);
      expect(t.most).toBeLessThanOrEqual(3000);
      expect(t.west % t.edge).toBe(0);
    });
    expect(new Set(plan.tiles.map((t) => t.edge)).size).toBeGreaterThan(1);
    expect(plan.tiles.some((t) => t.name === '467500_6214500_500')).toBe(true);
  });

  it('say where the cap cannot be kept', () => {
    const { plan } = planned(0, 1);
    expect(plan.overCap.length).toBeGreaterThan(0);
    expect(planned(0, Infinity).plan.tiles.every((t) => t.edge === 500)).toBe(true);
  });
});
