import { describe, expect, it } from 'vitest';
import { Random } from '../../numeric/random';
import { INSIDE, MIXED, parseSelection, PolygonMask, Selector, type Selection, type SelectionShape } from '.';

const ALL = { hiddenClasses: [], rejected: 'shown' as const };
const select = (regions: Selection['regions'], more: Partial<Selection> = {}) =>
  new Selector({ regions, inverted: false, filter: ALL, ...more }, [1000, 2000, 10]);
/** Winding number by angles: an independent way to tell whether a point is in a simple polygon. */
function winds(xy: number[], x: number, y: number): boolean {
  let turn = 0;
  for (let i = 0; i < xy.length; i += 2) {
    const j = (i + 2) % xy.length;
    const a = Math.atan2(xy[i + 1] - y, xy[i] - x);
    let d = Math.atan2(xy[j + 1] - y, xy[j] - x) - a;
    if (d > Math.PI) d -= 2 * Math.PI;
    if (d < -Math.PI) d += 2 * Math.PI;
    turn += d;
  }
  return Math.abs(turn) > 1;
}

describe('polygons', () => {
  it('hold the same points by cells as by winding, for any star of corners', () => {
    const random = new Random(7, 'polygons');
    for (let shape = 0; shape < 40; shape++) {
      const corners = 3 + Math.floor(random.uniform() * 60);
      const xy: number[] = [];
      for (let k = 0; k < corners; k++) {
        const r = 0.2 + random.uniform();
        const a = ((k + 0.8 * random.uniform()) / corners) * 2 * Math.PI;
        xy.push(3 + r * Math.cos(a), -5 + 4 * r * Math.sin(a));
      }
      const mask = new PolygonMask(xy);
      for (let k = 0; k < 500; k++) {
        const [x, y] = [3 + 2.6 * (random.uniform() - 0.5), -5 + 10 * (random.uniform() - 0.5)];
        expect(mask.has(x, y)).toBe(winds(xy, x, y));
      }
    }
  });

  it('that are thin, or but a line, hold what lies in them', () => {
    const sliver = new PolygonMask([0, 0, 100, 0.001, 100, 0.002]);
    expect(sliver.has(50, 0.00075)).toBe(true);
    expect(sliver.has(50, 0.0002)).toBe(false);
    expect(new PolygonMask([0, 0, 1, 1]).has(0.5, 0.5)).toBe(false);
  });
});

const square = [1002, 2002, 1006, 2002, 1006, 2006, 1002, 2006];

describe('selections', () => {
  it('in plan, between heights, added and taken away in order', () => {
    const plan: SelectionShape = { kind: 'plan', polygon: square, heightM: [11, 13] };
    const hole: SelectionShape = { kind: 'plan', polygon: square.map((v) => v + 2) };
    const one = select([{ mode: 'add', shape: plan }]);
    expect([one.has(3, 3, 2), one.has(3, 3, 0.5), one.has(7, 3, 2)]).toEqual([true, false, false]);
    const less = select([
      { mode: 'add', shape: plan },
      { mode: 'subtract', shape: hole },
    ]);
    expect([less.has(3, 3, 2), less.has(5, 5, 2)]).toEqual([true, false]);
    const both = select([
      { mode: 'add', shape: plan },
      { mode: 'within', shape: hole },
    ]);
    expect([both.has(3, 3, 2), both.has(5, 5, 2)]).toEqual([false, true]);
    const rest = select([{ mode: 'add', shape: plan }], { inverted: true });
    expect([rest.has(3, 3, 2), rest.has(7, 3, 2)]).toEqual([false, true]);
    expect(select([]).has(1, 2, 3)).toBe(true);
    expect(select([{ mode: 'subtract', shape: plan }]).has(50, 50, 0)).toBe(true);
  });

  it('on the picture of a view see only what is before the eye', () => {
    // looking along −z from z = 5: x and y over the distance
    const matrix = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, -1.02, -1, 0, 0, 5.1 - 0.2, 5];
    const s = select([
      { mode: 'add', shape: { kind: 'view', matrix, polygon: [-0.5, -0.5, 0.5, -0.5, 0.5, 0.5, -0.5, 0.5] } },
    ]);
    expect(s.has(0.9, 0, 3)).toBe(true);
    expect(s.has(1.1, 0, 3)).toBe(false);
    expect(s.has(0, 0, 7)).toBe(false);
    expect(s.touches(-1, -1, 6, 0.5)).toBe(true);
    expect(s.touches(9, 9, 0, 1)).toBe(false);
  });

  it('in a section: along, height, width; and under a brush', () => {
    const line = { from: [1000, 2000] as [number, number], to: [1010, 2000] as [number, number], widthM: 2 };
    const poly = select([{ mode: 'add', shape: { kind: 'section', line, polygon: [2, 11, 4, 11, 4, 12, 2, 12] } }]);
    expect([poly.has(3, 0.9, 1.5), poly.has(3, 1.1, 1.5), poly.has(5, 0, 1.5), poly.has(3, 0, 2.5)]).toEqual([
      true,
      false,
      false,
      false,
    ]);
    const brush = select([
      { mode: 'add', shape: { kind: 'brush', line, path: [2, 11, 6, 11], alongM: 0.5, heightM: 0.1 } },
    ]);
    expect([brush.has(4, 0, 1.09), brush.has(4, 0, 1.11), brush.has(1.6, 0, 1), brush.has(1.4, 0, 1)]).toEqual([
      true,
      false,
      true,
      false,
    ]);
  });

  it('decide for a whole cube only what holds for each point of it', () => {
    const random = new Random(3, 'cubes');
    const at = () => 20 * (random.uniform() - 0.5);
    const line = { from: [996, 1994] as [number, number], to: [1004, 2003] as [number, number], widthM: 3 };
    const matrix = [0.7, 0.2, 0.1, 0.09, -0.3, 0.8, 0.05, 0.04, 0.1, 0.1, 0.6, 0.02, 0.2, -0.4, 0, 1.1];
    const wide = [994, 1993, 1008, 1994, 1007, 2007, 993, 2006];
    const shapes: SelectionShape[] = [
      { kind: 'plan', polygon: wide, heightM: [5, 16] },
      { kind: 'section', line, polygon: [1, 6, 9, 7, 5, 15] },
      { kind: 'brush', line, path: [1, 8, 6, 12, 9, 9], alongM: 1, heightM: 2 },
      { kind: 'view', matrix, polygon: [-0.8, -0.9, 0.9, -0.7, 0.8, 0.9, -0.7, 0.8] },
    ];
    const modes = ['add', 'subtract', 'within'] as const;
    const seen = [0, 0, 0];
    for (let trial = 0; trial < 150; trial++) {
      const regions = Array.from({ length: 1 + Math.floor(3 * random.uniform()) }, () => ({
        mode: modes[Math.floor(3 * random.uniform())],
        shape: shapes[Math.floor(4 * random.uniform())],
      }));
      const inverted = random.uniform() < 0.3;
      const [free, bound] = [select(regions, { inverted }), select(regions, { inverted })];
      for (let cube = 0; cube < 30; cube++) {
        const [x, y, z, edge] = [at(), at(), at(), 0.2 + 3 * random.uniform()];
        const state = bound.enter(x, y, z, edge);
        seen[state]++;
        for (let k = 0; k < 12; k++) {
          const p = [x, y, z].map((v) => v + edge * random.uniform()) as [number, number, number];
          const held = free.has(...p);
          expect(bound.has(...p)).toBe(held);
          if (state !== MIXED) expect(held).toBe(state === INSIDE);
        }
      }
    }
    // each of the three comes up
    seen.forEach((n) => expect(n).toBeGreaterThan(100));
  });

  it('are cut to a section before and after they are turned inside out', () => {
    const clip = { from: [1000, 2004] as [number, number], to: [1010, 2004] as [number, number], widthM: 2 };
    const filter = { ...ALL, clip };
    const regions = [{ mode: 'add' as const, shape: { kind: 'plan' as const, polygon: square } }];
    const [s, rest] = [select(regions, { filter }), select(regions, { filter, inverted: true })];
    expect([s.has(3, 4, 0), s.has(3, 5.5, 0), s.has(8, 4, 0)]).toEqual([true, false, false]);
    expect([rest.has(3, 4, 0), rest.has(8, 4.5, 0), rest.has(8, 6, 0)]).toEqual([false, true, false]);
    expect(s.touches(3, 7, 0, 1)).toBe(false);
    expect(s.enter(3, 3.5, 0, 1)).toBe(MIXED);
  });

  it('let through by class, rejection, time, strip and intensity', () => {
    const s = select([], {
      filter: { hiddenClasses: [7], rejected: 'hidden', time: [100, 200], strips: [1, 3], intensity: [10, 90] },
    });
    expect([s.passes(2, false), s.passes(7, false), s.passes(2, true)]).toEqual([true, false, false]);
    expect(select([], { filter: { hiddenClasses: [], rejected: 'only' } }).passes(2, true)).toBe(true);
    expect(s.needsAttributes).toBe(true);
    expect(s.passesAttributes(150, 3, 50, 1, 1, 0)).toBe(true);
    for (const [t, strip, intensity] of [
      [99, 3, 50],
      [150, 2, 50],
      [150, 3, 9],
    ])
      expect(s.passesAttributes(t, strip, intensity, 1, 1, 0)).toBe(false);
  });

  it('let through by echo and by stated deviation', () => {
    const s = select([], {
      filter: { hiddenClasses: [], rejected: 'hidden', echoes: ['last', 'single'], sdMostM: 0.02 },
    });
    const echo = (n: number, of: number, sdM = 0.01) => s.passesAttributes(0, 0, 0, n, of, sdM);
    expect([echo(1, 1), echo(1, 3), echo(2, 3), echo(3, 3), echo(0, 0)]).toEqual([true, false, false, true, true]);
    expect([echo(1, 1, 0.02), echo(1, 1, 0.0201)]).toEqual([true, false]);
  });

  it('let through by height, whatever the zero of the cloud', () => {
    const s = select([], { filter: { ...ALL, heightM: [12, 14] } });
    // the zero lies at 10 m
    expect([1.9, 2, 4, 4.1].map((z) => s.has(0, 0, z))).toEqual([false, true, true, false]);
    expect(s.enter(0, 0, 0, 4)).toBe(MIXED);
    expect(
      parseSelection({ regions: [], inverted: false, filter: { ...ALL, heightM: [1, 2] } }).filter.heightM,
    ).toEqual([1, 2]);
  });

  it('let through by height above the ground, which a slope carries along; nothing counts without ground', () => {
    // ground rises by 0.5 m a cell of 1 m eastward, 0 at the middle of the first
    const heightM = Float32Array.from({ length: 40 }, (_, k) => (k % 10) / 2);
    const above = {
      object: 'a'.repeat(64),
      cellM: 1,
      minX: 0,
      minY: 0,
      columns: 10,
      rows: 4,
      rangeM: [1, 2] as [number, number],
    };
    const filter = { hiddenClasses: [], rejected: 'hidden' as const, above };
    const s = new Selector({ regions: [], inverted: false, filter }, [0, 0, 0], {
      rows: () => undefined as never,
      ground: () => heightM,
    });
    expect(s.enter(0, 0, 0, 4)).toBe(MIXED);
    // at x = 4.5 the ground is at 2 m
    expect([2.99, 3.01, 3.99, 4.01].map((z) => s.has(4.5, 2, z))).toEqual([false, true, true, false]);
    expect(() => new Selector({ regions: [], inverted: false, filter }, [0, 0, 0])).toThrow('not at hand');
    const parsed = parseSelection({ regions: [], inverted: false, filter });
    expect(parsed.filter.above).toEqual(above);
    expect(() => parseSelection({ regions: [], inverted: false, filter: { ...filter, echoes: ['third'] } })).toThrow(
      'echoes',
    );
  });
});

describe('a selection from outside', () => {
  const of = (polygon: number[], kind = 'plan') => ({
    regions: [{ mode: 'add', shape: { kind, polygon, matrix: Array.from({ length: 16 }, () => 0) } }],
    filter: ALL,
  });
  it('may have the many corners of a surveyed area, up to what it says', () => {
    const circle = (n: number) =>
      Array.from({ length: 2 * n }, (_, i) => 100 * (i % 2 ? Math.sin : Math.cos)((Math.PI * (i >> 1) * 2) / n));
    const selection = parseSelection(of(circle(60_000)));
    const began = new Selector(selection, [0, 0, 0]);
    expect([began.has(0, 99.9, 0, 0), began.has(0, 100.1, 0, 0)]).toEqual([true, false]);
    expect(() => parseSelection(of(circle(60_001)))).toThrow(/60001 corners; 60000 are the most/);
    expect(() => parseSelection(of(circle(20_000), 'view'))).toThrow(/10000 are the most/);
  });
});
