import { describe, expect, it } from 'vitest';
import { confusion } from '../accuracy';
import { Random } from '../numeric';
import { LAS_CLASS, type PointSet } from './points';
import { classifyThings } from './things';

describe('what stands on the ground', () => {
  it('gets the class of its shape and height', () => {
    const random = new Random(12, 'things');
    const rows: [number, number, number, number][] = [];
    const put = (n: number, cls: number, f: () => [number, number, number]) => {
      for (let i = 0; i < n; i++) {
        const p = f();
        rows.push([...p.map((v) => v + 0.006 * random.normal()), cls] as [number, number, number, number]);
      }
    };
    const u = (a: number, b: number) => random.between(a, b);
    // ground of 40 by 40 m but for the house, seen under the deck too
    put(60_000, LAS_CLASS.ground, () => {
      for (;;) {
        const [x, y] = [u(0, 40), u(0, 40)];
        if (x < 28 || x > 36 || y < 28 || y > 36) return [x, y, 0.02 * x];
      }
    });
    put(5000, LAS_CLASS.building, () => [28, u(28, 36), 0.56 + u(0.5, 4)]);
    put(4000, LAS_CLASS.building, () => [u(28, 36), u(28, 36), 4.8]);
    put(1500, LAS_CLASS.pole, () => {
      const a = u(0, 2 * Math.PI);
      return [10 + 0.1 * Math.cos(a), 30 + 0.1 * Math.sin(a), 0.2 + u(0.4, 8)];
    });
    put(900, LAS_CLASS.wireConductor, () => {
      const t = u(0, 25);
      return [5 + t, 20, 7 + ((t - 12.5) / 12.5) ** 2];
    });
    put(9000, LAS_CLASS.bridgeDeck, () => [u(5, 12), u(2, 14), 5.5]);
    put(3000, LAS_CLASS.highVegetation, () => [u(20, 23), u(5, 8), u(2.6, 5)]);
    put(800, LAS_CLASS.lowVegetation, () => [u(30, 34), u(5, 9), 0.64 + u(0.1, 0.35)]);
    const set: PointSet = {
      count: rows.length,
      x: Float64Array.from(rows, (r) => r[0]),
      y: Float64Array.from(rows, (r) => r[1]),
      z: Float64Array.from(rows, (r) => r[2]),
      origin: [0, 0, 0],
    };
    const truth = rows.map((r) => r[3]);
    const cls = Uint8Array.from(truth, (c) => (c === LAS_CLASS.ground ? c : LAS_CLASS.unclassified));
    const kept = cls.slice();
    // a class that a person gave stays
    const byHand = truth.indexOf(LAS_CLASS.bridgeDeck);
    cls[byHand] = LAS_CLASS.rail;
    const counts = classifyThings(set, cls, new Uint8Array(set.count));
    expect(cls[byHand]).toBe(LAS_CLASS.rail);
    const share = (c: number) => {
      let [all, right] = [0, 0];
      truth.forEach((t, i) => {
        if (t !== c) return;
        all++;
        if (cls[i] === c) right++;
      });
      return right / all;
    };
    for (const c of [LAS_CLASS.building, LAS_CLASS.bridgeDeck]) expect([c, share(c) > 0.9]).toEqual([c, true]);
    expect(share(LAS_CLASS.highVegetation)).toBe(1);
    expect(share(LAS_CLASS.wireConductor)).toBeGreaterThan(0.9);
    expect(share(LAS_CLASS.pole)).toBeGreaterThan(0.85);
    expect(share(LAS_CLASS.ground)).toBe(1);
    expect(Object.values(counts).reduce((a, b) => a + b)).toBeLessThanOrEqual(kept.filter((c) => c === 1).length);
  });

  it('is left as it is without ground', () => {
    const set = { count: 2, x: new Float64Array(2), y: new Float64Array(2), z: new Float64Array(2) };
    const cls = new Uint8Array([1, 5]);
    expect(classifyThings({ ...set, origin: [0, 0, 0] }, cls, new Uint8Array(2))).toEqual({});
    expect([...cls]).toEqual([1, 5]);
  });
});

describe('a confusion table', () => {
  it('worked by hand', () => {
    const names = { reference: ['a', 'b', 'x'], found: ['A', 'B'] };
    const c = confusion([0, 0, 0, 1, 1, 2], [0, 0, 1, 1, 1, 0], names, [0, 1, -1]);
    expect(c.counts).toEqual([
      [2, 1],
      [0, 2],
      [1, 0],
    ]);
    expect(c.recall).toEqual([2 / 3, 1, Number.NaN]);
    expect(c.precision).toEqual([2 / 3, 2 / 3]);
    expect(c.overall).toBe(4 / 5);
  });
});
