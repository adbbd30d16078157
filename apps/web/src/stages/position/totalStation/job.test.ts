import { describe, expect, it } from 'vitest';
import { type TraverseFigures } from '@longheron/contract/kinds/parts/traverse';
import { jobShapes, verdict } from './job';

const point = (name: string, east: number, kind: 'control' | 'station', majorM: number, checked = true) =>
  ({
    name,
    kind,
    easting_m: east,
    northing_m: 0,
    major_m: majorM,
    minor_m: majorM / 2,
    bearing_deg: 30,
    checked,
  }) as TraverseFigures['points'][number];
const ray = (from: string, to: string, test: number, length_m = 80) =>
  ({ from, to, test, length_m, kind: 'distance' }) as TraverseFigures['observations'][number];
const figures = (more: Partial<TraverseFigures> = {}) =>
  ({
    sigma0: 1,
    sigma0_expected: [0.8, 1.2],
    closures: [],
    rejected: [],
    points: [point('A', 0, 'control', 0.003), point('B', 80, 'station', 0.01), point('C', 160, 'station', 0.02, false)],
    observations: [ray('A', 'B', 0.5), ray('A', 'B', 1.1), ray('B', 'C', 4)],
    ...more,
  }) as TraverseFigures;

describe('what is said of an adjusted job', () => {
  it.each([
    [figures(), 'ok', /as their deviations allow/],
    [figures({ sigma0: 1.6 }), 'warn', /larger than the deviations allow/],
    [figures({ sigma0: null, sigma0_expected: null }), 'warn', /nothing is checked/],
    [figures({ closures: [{ ok: false }] as TraverseFigures['closures'] }), 'warn', /does not close/],
    [figures({ rejected: [{}, {}] as TraverseFigures['rejected'] }), 'warn', /2 errors found and left out/],
  ])('is its worst', (f, state, words) => {
    expect(verdict(f).state).toBe(state);
    expect(verdict(f).words).toMatch(words);
  });
});

describe('the picture of an adjusted job', () => {
  const { shapes, scale } = jobShapes(figures(), 'C');
  const lines = shapes.filter((s) => s.kind === 'line');

  it('has one line a ray, in red where a residual fails', () => {
    expect(lines).toHaveLength(2);
    expect(lines.map((l) => l.colour)).toEqual(['#0e5e66', '#a8402e']);
  });

  it('has ellipses of points that were found, so much larger as can be said', () => {
    expect(scale).toBe(500);
    const [b, c] = shapes.filter((s) => s.kind === 'area');
    const reach = (s: typeof b, east: number) => Math.max(...s.points.map(([e, n]) => Math.hypot(e - east, n)));
    expect(reach(b, 80)).toBeCloseTo(0.01 * scale, 6);
    expect(reach(c, 160)).toBeCloseTo(0.02 * scale, 6);
    expect(shapes.filter((s) => s.kind === 'area')).toHaveLength(2);
  });

  it('draws a sighting that was left out as a broken line', () => {
    const rejected = [{ what: 'sighting', station: 'A', target: 'C' }] as TraverseFigures['rejected'];
    const broken = jobShapes(figures({ rejected })).shapes.filter((s) => s.dashed);
    expect(broken).toHaveLength(1);
    expect(broken[0].points).toEqual([
      [0, 0],
      [160, 0],
    ]);
  });
});
