import { describe, expect, it } from 'vitest';
import { Random } from '../../numeric/random';
import { findPoints, FINDERS, finderSettings, type FinderCloud, type FinderName } from '.';

type Place = [number, number, number];
const random = new Random(21, 'finders');
/** Ground z = 0.1 x over a square of 20 m, every 0.25 m, with 5 mm of noise. */
const ground: Place[] = [];
for (let x = 0; x < 20; x += 0.25)
  for (let y = 0; y < 20; y += 0.25) ground.push([x, y, 0.1 * x + 0.005 * random.normal()]);

function cloudOf(parts: Array<{ places: Place[]; cls: number; strip?: number }>): FinderCloud {
  const all = parts.flatMap(({ places, cls, strip = 1 }) => places.map((p) => ({ p, cls, strip })));
  const column = (k: number) => Float64Array.from(all, ({ p }) => p[k]);
  return {
    set: { count: all.length, x: column(0), y: column(1), z: column(2), origin: [0, 0, 0] },
    cls: Uint8Array.from(all, (a) => a.cls),
    skip: new Uint8Array(all.length),
    xyz: Int32Array.from(all.flatMap(({ p }) => p.map((v) => Math.round(1000 * v)))),
    time: Uint32Array.from(all, (_, i) => i),
    strip: Uint16Array.from(all, (a) => a.strip),
  };
}
const find = (cloud: FinderCloud, name: FinderName, more: Record<string, number> = {}, row?: number) => {
  const { marks, note } = findPoints(cloud, name, finderSettings(name, more), row);
  return { rows: [...marks.keys()].filter((i) => marks[i]), note };
};
const G = { places: ground, cls: 2 };
const N = ground.length;

describe('finders', () => {
  it('find groups that touch nothing, and what hangs together', () => {
    const bird: Place[] = Array.from({ length: 12 }, (_, k) => [5 + 0.05 * k, 5, 8]);
    const post: Place[] = Array.from({ length: 80 }, (_, k) => [12, 12, 1.2 + 0.05 * (k + 1)]);
    const cloud = cloudOf([G, { places: bird, cls: 1 }, { places: post, cls: 1 }]);
    expect(find(cloud, 'groups').rows).toEqual(bird.map((_, k) => N + k));
    expect(find(cloud, 'groups', { most: 11 }).rows).toEqual([]);
    expect(find(cloud, 'connected', {}, N + 3).rows).toEqual(bird.map((_, k) => N + k));
    // from the post the ground is reached
    expect(find(cloud, 'connected', {}, N + 20).rows).toHaveLength(N + 80);
    cloud.skip.fill(1, 0, N);
    expect(find(cloud, 'connected', {}, N + 20).rows).toHaveLength(80);
    expect(() => find(cloud, 'connected')).toThrow(/No point is picked/);
  });

  it('find few neighbours as a search through all pairs does', () => {
    const places = Array.from({ length: 400 }, (): Place => [0, 1, 2].map(() => 6 * random.uniform()) as Place);
    const cloud = cloudOf([{ places, cls: 1 }]);
    const close = (i: number) =>
      places.filter((p, j) => j !== i && Math.hypot(...p.map((v, k) => v - places[i][k])) <= 1).length;
    const wanted = places.map((_, i) => i).filter((i) => close(i) < 4);
    expect(wanted.length).toBeGreaterThan(20);
    expect(find(cloud, 'sparse').rows).toEqual(wanted);
  });

  it('find what lies below and above sloping ground, and carry the ground on under things', () => {
    // a shed of 3 m by 3 m without ground beneath it
    const around = ground.filter(([x, y]) => !(x > 8 && x < 11 && y > 8 && y < 11));
    const roof: Place[] = [];
    for (let x = 8.2; x < 11; x += 0.3) for (let y = 8.2; y < 11; y += 0.3) roof.push([x, y, 0.1 * x + 2.6]);
    const cloud = cloudOf([
      { places: around, cls: 2 },
      { places: roof, cls: 1 },
      { places: [[4, 4, 0.4 - 0.5]], cls: 1 },
      { places: [[4, 6, 0.4 - 0.2]], cls: 1 },
    ]);
    const first = around.length;
    expect(find(cloud, 'below').rows).toEqual([first + roof.length]);
    expect(find(cloud, 'above', { fromM: 2.45, toM: 2.75 }).rows).toEqual(roof.map((_, k) => first + k));
    expect(() => find(cloudOf([{ places: roof, cls: 1 }]), 'below')).toThrow(/no ground points/);
  });

  it('judge cells by their own spread, and say where they cannot', () => {
    const off: Place[] = [[10.1, 10.1, 0.1 * 10.1 + 0.08]];
    const lone: Place[] = [[30.5, 30.5, 9]];
    const cloud = cloudOf([G, { places: off, cls: 2 }, { places: lone, cls: 1 }]);
    const { rows, note } = find(cloud, 'cells', { factor: 8 });
    expect(rows).toEqual([N]);
    expect(note).toBe('1 cell has too few points for a verdict.');
  });

  it('tell wires from roofs by the shape of what is around them', () => {
    const wire: Place[] = Array.from({ length: 120 }, (_, k) => [2 + 0.1 * k, 3, 6 + 0.002 * (k - 60) ** 2 * 0.1]);
    const roof: Place[] = [];
    for (let x = 6; x < 12; x += 0.2) for (let y = 10; y < 16; y += 0.2) roof.push([x, y, 5 + 0.3 * (y - 10)]);
    const tree: Place[] = Array.from({ length: 800 }, (): Place => [
      16 + 2 * random.uniform(),
      16 + 2 * random.uniform(),
      5 + 2 * random.uniform(),
    ]);
    const cloud = cloudOf([G, { places: wire, cls: 1 }, { places: roof, cls: 1 }, { places: tree, cls: 1 }]);
    const part = (rows: number[]) => [
      rows.filter((i) => i >= N && i < N + 120).length / 120,
      rows.filter((i) => i >= N + 120 && i < N + 120 + roof.length).length / roof.length,
      rows.filter((i) => i >= N + 120 + roof.length).length / tree.length,
    ];
    const [wires, ofRoof, ofTree] = part(find(cloud, 'lines').rows);
    expect(wires).toBe(1);
    expect(ofRoof).toBeLessThan(0.05);
    expect(ofTree).toBeLessThan(0.02);
    const [flatWire, roofs, flatTree] = part(find(cloud, 'planes').rows);
    expect(flatWire).toBe(0);
    expect(roofs).toBeGreaterThan(0.85);
    // away from its edges all of it
    const found = new Set(find(cloud, 'planes').rows);
    const inner = roof.flatMap(([x, y], k) => (x > 6.8 && x < 11 && y > 10.8 && y < 15 ? [N + 120 + k] : []));
    expect(inner.every((i) => found.has(i))).toBe(true);
    expect(flatTree).toBeLessThan(0.15);
  });

  it('keep the first of what is there twice', () => {
    const cloud = cloudOf([
      {
        places: [
          [1, 1, 1],
          [2, 2, 2],
          [1, 1, 1],
          [1, 1, 1],
        ],
        cls: 1,
      },
    ]);
    cloud.time.set([7, 7, 7, 8]);
    expect(find(cloud, 'duplicates').rows).toEqual([2]);
  });

  it('have usual settings within their ranges, and refuse others', () => {
    for (const name of Object.keys(FINDERS) as FinderName[]) expect(() => finderSettings(name, {})).not.toThrow();
    expect(() => finderSettings('groups', { gapM: -1 })).toThrow(
      /"Apart by" of Isolated groups lies between 0.05 and 20/,
    );
  });

  it('find what stood there on one pass and not on the other, and leave what stands still', () => {
    const box = (x0: number, y0: number): Place[] => {
      const out: Place[] = [];
      for (let x = 0; x <= 4; x += 0.2)
        for (let z = 0.1; z <= 1.6; z += 0.15)
          out.push([x0 + x, y0, 0.1 * (x0 + x) + z], [x0 + x, y0 + 1.8, 0.1 * (x0 + x) + z]);
      return out;
    };
    const clear = (boxes: Array<[number, number]>) =>
      ground.filter(([x, y]) => !boxes.some(([a, b]) => x >= a && x <= a + 4 && y >= b && y <= b + 1.8));
    // parked at (2, 2) on both passes; one drives at (10, 10) on the first, one at (12, 15) on the second
    const jitter = (p: Place[]) =>
      p.map(([x, y, z]): Place => [x + 0.02 * random.normal(), y + 0.02 * random.normal(), z]);
    // a wall that shades the ground behind it from the second pass: what stands there only the first has seen
    const hidden = box(14, 2);
    const second = clear([
      [2, 2],
      [12, 15],
    ]).filter(([x, y]) => !(x > 13 && y < 5));
    const parts = [
      {
        places: clear([
          [2, 2],
          [10, 10],
          [14, 2],
        ]),
        cls: 2,
        strip: 1,
      },
      { places: jitter(second), cls: 2, strip: 2 },
      { places: jitter(box(2, 2)), cls: 1, strip: 1 },
      { places: jitter(box(2, 2)), cls: 1, strip: 2 },
      { places: hidden, cls: 1, strip: 1 },
      { places: box(10, 10), cls: 1, strip: 1 },
      { places: box(12, 15), cls: 1, strip: 2 },
    ];
    const cloud = cloudOf(parts);
    const { rows, note } = find(cloud, 'moving', { cellM: 0.5 });
    const first = cloud.set.count - 2 * box(0, 0).length;
    // all that is higher than what is looked at, of both, and nothing else
    expect(rows.every((i) => i >= first)).toBe(true);
    const high = [...cloud.skip.keys()].filter((i) => i >= first && cloud.set.z[i] - 0.1 * cloud.set.x[i] > 0.35);
    expect(rows.length).toBeGreaterThan(0.9 * high.length);
    expect(note).toMatch(/In \d+ cells/);
    const alone = cloudOf(parts.map((p) => ({ ...p, strip: 1 })));
    expect(find(alone, 'moving')).toEqual({ rows: [], note: expect.stringContaining('fewer than two strips') });
  });

  it('find water by its level lowest surface, and its edge with and without returns off it', () => {
    // a bank that falls to the east by a fifth, with a bend; water stands at -1
    const bank: Place[] = [];
    const off: Place[] = [];
    const shoreX = (y: number) => 30 + 4 * Math.sin(y / 9);
    for (let x = 0; x < 60; x += 0.4)
      for (let y = 0; y < 60; y += 0.4) {
        const z = -1 - 0.2 * (x - shoreX(y)) + 0.01 * random.normal();
        if (z > -1) bank.push([x, y, z]);
        else if (random.uniform() < 0.3) off.push([x, y, -1 + 0.015 * random.normal()]);
      }
    // a level yard stands above its surroundings: no water
    const yard: Place[] = [];
    for (let x = 2; x < 14; x += 0.4) for (let y = 2; y < 14; y += 0.4) yard.push([x, y, 9 + 0.01 * random.normal()]);
    const B = bank.length;
    const all = cloudOf([
      { places: bank, cls: 2 },
      { places: off, cls: 1 },
      { places: yard, cls: 1 },
    ]);
    const water = find(all, 'water').rows;
    const found = water.filter((i) => i >= B && i < B + off.length).length;
    expect(found).toBeGreaterThan(0.97 * off.length);
    // cells of a metre at the very edge hold both
    expect(water.length - found).toBeLessThan(0.02 * B);
    expect(water.filter((i) => i >= B + off.length)).toEqual([]);

    const called = cloudOf([
      { places: bank, cls: 2 },
      { places: off, cls: 9 },
    ]);
    const dry = cloudOf([{ places: bank, cls: 2 }]);
    for (const [cloud, more] of [
      [called, {}],
      [dry, { levelM: -1 }],
    ] as const) {
      const { rows, note } = find(cloud, 'shore', more);
      expect(note).toContain(cloud === called ? 'the median of class water' : 'as stated');
      expect(rows.length).toBeGreaterThan(100);
      // 15 cm of height are 75 cm of this bank
      for (const i of rows) expect(Math.abs(bank[i][0] - shoreX(bank[i][1]))).toBeLessThan(0.95);
      // every two metres of the shore have a point of the edge
      const gaps = Array.from({ length: 28 }, (_, k) => 2 + 2 * k).filter(
        (y) => !rows.some((i) => Math.abs(bank[i][1] - y) < 1),
      );
      expect(gaps).toEqual([]);
    }
    expect(find(dry, 'shore', { levelM: 3 }).rows.every((i) => Math.abs(bank[i][2] - 3) < 0.15)).toBe(true);
  });
});
