import { describe, expect, it } from 'vitest';
import { Random } from '../../numeric';
import { compareLines, horizontalLimitM, OrderCounts, SURVEY_ORDERS, verticalLimitM } from '.';

describe('orders of hydrographic survey', () => {
  it('allow what the table of the standard gives', () => {
    const [exclusive, special, first, second] = SURVEY_ORDERS;
    expect(verticalLimitM(exclusive, 0)).toBe(0.15);
    expect(verticalLimitM(special, 40)).toBeCloseTo(Math.sqrt(0.25 ** 2 + 0.3 ** 2), 12);
    expect(verticalLimitM(first, 100)).toBeCloseTo(Math.sqrt(0.5 ** 2 + 1.3 ** 2), 12);
    expect(verticalLimitM(second, 200)).toBeCloseTo(Math.sqrt(1 + 4.6 ** 2), 12);
    expect([exclusive, special, first, second].map((o) => horizontalLimitM(o, 60))).toEqual([1, 2, 8, 26]);
  });

  it('are counted at 95 %: 1.96 times the height’s deviation, 2.45 times that of an axis', () => {
    const counts = new OrderCounts();
    counts.add(10, 0.16 / 1.96, 0.1);
    counts.add(10, 0.17 / 1.96, 0.1);
    counts.add(10, 0.01, 1.01 / 2.45);
    counts.add(10, 0.01, 5.6 / 2.45);
    // at 10 m: exclusive √(0.15² + 0.075²) = 0.1677 m and 1 m; order 1: 5.5 m
    expect(counts.counts.map((c) => [c.soundings, c.vertical, c.horizontal, c.both])).toEqual([
      [4, 3, 2, 1],
      [4, 4, 3, 3],
      [4, 4, 3, 3],
      [4, 4, 4, 4],
    ]);
  });
});

/** Two lines beside each other over an even bed: inner beams of one meet outer beams of the other. */
function twoLines(bendM: number, offsetM: number) {
  const random = new Random(3, 'lines');
  const rows: Array<[x: number, y: number, h: number, line: number, angle: number]> = [];
  for (let y = 0; y < 60; y += 0.4)
    for (let lean = -62; lean <= 62; lean += 2)
      for (const line of [1, 2]) {
        const tan = Math.tan((lean * Math.PI) / 180);
        const h = -10 + 0.02 * random.normal() + (line === 2 ? offsetM + bendM * tan * tan : 0);
        rows.push([10 * tan + 14 * (line - 1), y, h, line, lean]);
      }
  const column = (k: number) => Float64Array.from(rows, (r) => r[k]);
  return { count: rows.length, x: column(0), y: column(1), h: column(2), line: column(3), angleDeg: column(4) };
}

describe('lines against each other', () => {
  it('differ by what one lies higher, and by their noise', () => {
    const r = compareLines(twoLines(0, 0.07), 2);
    const second = r.byLine.find((l) => l.line === 2)!;
    expect(second.meanM).toBeCloseTo(0.07, 2);
    expect(r.byPair).toHaveLength(1);
    expect(r.byPair[0].meanM).toBeCloseTo(-0.07, 2);
    expect(second.sdM).toBeGreaterThan(0.015);
    expect(second.sdM).toBeLessThan(0.03);
    expect(r.bends).toEqual([]);
    expect(r.byAngle.reduce((n, b) => n + b.n, 0)).toBe(r.all.n);
    expect(r.wild).toBeLessThan(0.02 * r.all.n);
  });

  it('whose outer beams bend are named, up or down', () => {
    const smile = compareLines(twoLines(0.06, 0), 2).bends;
    expect(smile.map((b) => b.line)).toContain(2);
    expect(smile.find((b) => b.line === 2)!.outerM).toBeGreaterThan(0.05);
    expect(compareLines(twoLines(-0.06, 0), 2).bends.find((b) => b.line === 2)!.outerM).toBeLessThan(-0.05);
  });
});
