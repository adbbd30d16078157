import { describe, expect, it } from 'vitest';
import { Random } from '../numeric/random';
import { matchClasses } from './compareClasses';

const cloud = (rows: Array<[number, number, number, number]>) => ({
  xyz: Int32Array.from(rows.flatMap(([x, y, z]) => [x, y, z])),
  cls: Uint8Array.from(rows, (r) => r[3]),
  skip: new Uint8Array(rows.length),
});

describe('two classifications of the same points', () => {
  it('are matched by place, whatever the order, and counted by class', () => {
    const random = new Random(3, 'classes');
    const rows = Array.from(
      { length: 5000 },
      (_, i): [number, number, number, number] =>
        [...[0, 1, 2].map(() => Math.floor(4e6 * (random.uniform() - 0.5))), i % 3 === 0 ? 6 : 2] as [
          number,
          number,
          number,
          number,
        ],
    );
    const other = rows
      .map(([x, y, z, c], i): [number, number, number, number] => [x, y, z, i % 10 === 0 ? 5 : c])
      .reverse()
      .slice(0, 4000);
    const m = matchClasses(cloud(rows), cloud(other));
    const kept = rows.map((r, i) => ({ c: r[3], f: i % 10 === 0 ? 5 : r[3] })).slice(1000);
    const count = (c: number, f: number) => kept.filter((k) => k.c === c && k.f === f).length;
    for (const [c, f] of [
      [2, 2],
      [2, 5],
      [6, 6],
      [6, 5],
      [2, 6],
    ])
      expect(m.counts[256 * c + f]).toBe(count(c, f));
    expect([m.matched, m.without, m.ambiguous]).toEqual([4000, 1000, 0]);
  });

  it('decide nothing in places that the reference holds twice with different classes, and leave out what does not count', () => {
    const reference = cloud([
      [1, 2, 3, 2],
      [1, 2, 3, 6],
      [4, 5, 6, 2],
      [4, 5, 6, 2],
      [7, 8, 9, 9],
    ]);
    const found = cloud([
      [1, 2, 3, 2],
      [4, 5, 6, 2],
      [7, 8, 9, 9],
      [0, 0, 0, 1],
    ]);
    found.skip[2] = 1;
    const m = matchClasses(reference, found);
    expect([m.matched, m.ambiguous, m.without, m.counts[256 * 2 + 2]]).toEqual([1, 1, 1, 1]);
  });
});
