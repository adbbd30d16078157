import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { bench, type Bench } from './longheron';

/** A plane that rises 2 cm a metre to the east, in a grid of half metres, 40 by 30 m. */
const heightAt = (e: number) => 3 + 0.02 * (e - 467_000);
const GRID = Array.from({ length: 80 * 60 }, (_, i): [number, number] => [
  467_000.25 + 0.5 * (i % 80),
  6_215_000.25 + 0.5 * Math.floor(i / 80),
]);
/** Distance along the normal for one in height. */
const ALONG_NORMAL = 1 / Math.hypot(1, 0.02);
const rows = (points: number[][]) => points.map(([e, n, h, s]) => `${e} ${n} ${h.toFixed(5)} ${s}\n`).join('');
const AS_LAS = ['--columns', 'x,y,z,source', '--crs', 'EPSG:25832+5773'];

let b: Bench;
beforeAll(() => {
  b = bench();
  const plane = GRID.map(([e, n]) => [e, n, heightAt(e), 1]);
  const strays = [0, 1, 2, 3, 4].map((k) => [467_005 + 7 * k, 6_215_010, 40 + k, 1]);
  // a second strip between the points of the first, 5 cm higher
  const second = GRID.map(([e, n]) => [e + 0.1, n + 0.1, heightAt(e + 0.1) + 0.05, 2]);
  const west = plane.filter(([e]) => e < 467_018);
  const east = plane.filter(([e]) => e > 467_018);
  const files = { plane, strays: [...plane, ...strays], two: [...plane, ...second], west, east };
  for (const [name, points] of Object.entries(files)) {
    b.write(`${name}.xyz`, rows(points));
    expect(b.run('convert', '--in', `${name}.xyz`, ...AS_LAS, '--out', `${name}.las`).code).toBe(0);
  }
  // two marks 1 cm and two marks 2 cm below the plane
  const marks = [0, 1, 2, 3].map((k) => [467_005 + 7 * k, 0.01 * (1 + (k % 2))]);
  const lines = marks.map(([e, below], k) => `M${k},check,${e},6215012,${(heightAt(e) - below).toFixed(5)},0.005\n`);
  b.write('marks.csv', `name,role,easting_m,northing_m,height_m,sd_h_m\n${lines.join('')}`);
}, 900_000);
afterAll(() => b.clear());

describe('commands on clouds', () => {
  it('classify: strays and ground of a plane, each point counted', () => {
    const r = b.run('classify', '--in', 'strays.las', '--out', 'ground.las');
    expect([r.code, r.report.strays, r.report.ground]).toEqual([0, 5, 4800]);
    expect(r.report.counts_by_class).toEqual({ 2: 4800, 18: 5 });
    const cloth = b.run('classify', '--in', 'strays.las', '--out', 'c.las', '--ground', '--method', 'cloth');
    expect([cloth.code, cloth.report.strays, cloth.report.ground]).toEqual([0, 0, 4800]);
    const wrong = b.run('classify', '--in', 'strays.las', '--out', 'x.las', '--method', 'luck');
    expect([wrong.code, wrong.err]).toEqual([2, expect.stringContaining('--method')]);
    const over = b.run('classify', '--in', 'strays.las', '--out', 'strays.las');
    expect([over.code, over.report]).toEqual([2, null]);
  });

  it('check: residuals of a plane above its marks, good or not by the tolerance', () => {
    const good = b.run(
      'check',
      '--cloud',
      'ground.las',
      '--marks',
      'marks.csv',
      '--tolerance',
      '0.03',
      '--csv',
      'r.csv',
    );
    expect(good.code).toBe(0);
    expect(good.report.mean_m).toBeCloseTo(0.015, 4);
    expect(good.report.rmse_m).toBeCloseTo(Math.sqrt((0.01 ** 2 + 0.02 ** 2) / 2), 4);
    expect(b.read('r.csv')).toContain('M0,check');
    const bad = b.run('check', '--cloud', 'ground.las', '--marks', 'marks.csv', '--tolerance', '0.012');
    expect([bad.code, bad.report.within_tolerance]).toEqual([1, false]);
    const none = b.run('check', '--cloud', 'ground.las');
    expect([none.code, none.err]).toEqual([2, expect.stringContaining('--marks')]);
  });

  it('surface: heights in the middle of cells, and no contours without an interval', () => {
    const r = b.run('surface', '--cloud', 'ground.las', '--cell', '1', '--asc', 's.asc');
    expect([r.code, r.report.cells, r.report.empty_cells]).toEqual([0, 1200, 0]);
    const first = b.read('s.asc').split('\n')[6].trim().split(/\s+/).map(Number);
    expect(first).toHaveLength(40);
    first.forEach((h, i) => expect(h).toBeCloseTo(heightAt(467_000.5 + i), 3));
    const none = b.run('surface', '--cloud', 'ground.las', '--dxf', 'c.dxf');
    expect([none.code, none.err]).toEqual([2, expect.stringContaining('--contours 0.25')]);
  });

  it('agreement: two strips five centimetres apart', () => {
    const r = b.run('agreement', '--cloud', 'two.las', '--cell', '2', '--tolerance', '0.06', '--csv', 'p.csv');
    expect([r.code, r.report.pairs.length]).toEqual([0, 1]);
    expect(r.report.rms_m).toBeCloseTo(0.05 * ALONG_NORMAL, 5);
    expect(b.read('p.csv')).toMatch(/1,2,300/);
    expect(b.run('agreement', '--cloud', 'two.las', '--cell', '2', '--tolerance', '0.03').code).toBe(1);
    const wrong = b.run('agreement', '--cloud', 'two.las', '--cell', '200');
    expect([wrong.code, wrong.err]).toEqual([2, expect.stringContaining('Cell must be between 0.1 and 50 m')]);
  });

  it('coverage: area, density and the half that is missing', () => {
    const whole = b.run('coverage', '--cloud', 'plane.las', '--density', '4', '--least-void', '1');
    expect(whole.report).toMatchObject({ area_m2: 1200, covered_m2: 1200, void_m2: 0, median_per_m2: 4 });
    const ring = [
      [467_000, 6_215_000],
      [467_040, 6_215_000],
      [467_040, 6_215_030],
      [467_000, 6_215_030],
      [467_000, 6_215_000],
    ];
    const crs = { type: 'name', properties: { name: 'urn:ogc:def:crs:EPSG::25832' } };
    b.write('area.geojson', JSON.stringify({ type: 'Polygon', crs, coordinates: [ring] }));
    const half = b.run('coverage', '--cloud', 'west.las', '--area', 'area.geojson', '--density', '4');
    expect(half.report).toMatchObject({ area_m2: 1200, covered_m2: 540, void_m2: 660 });
    expect(half.report.voids).toHaveLength(1);
    b.write('line.geojson', '{"type":"LineString","coordinates":[[467000,6215000],[467001,6215001]]}');
    const none = b.run('coverage', '--cloud', 'west.las', '--area', 'line.geojson');
    expect([none.code, none.err]).toEqual([2, expect.stringContaining('no area')]);
  });

  it('class-check: a cloud against itself, and against one that was never classified', () => {
    const same = b.run('class-check', '--cloud', 'ground.las', '--against', 'ground.las');
    expect(same.report).toMatchObject({ overall: 1, matched: 4805, without: 0 });
    const raw = b.run('class-check', '--cloud', 'ground.las', '--against', 'strays.las');
    expect(raw.report).toMatchObject({
      overall: 0,
      classes: [0, 2, 18],
      counts: [
        [0, 4800, 5],
        [0, 0, 0],
        [0, 0, 0],
      ],
    });
    expect(b.run('class-check', '--cloud', 'ground.las').code).toBe(2);
  });

  it('delivery: tiles side by side are good, tiles over each other are not', () => {
    expect(b.run('delivery', '--in', 'west.las,east.las')).toMatchObject({
      code: 0,
      report: { tiles: 2, points: 4800 },
    });
    const over = b.run('delivery', '--in', 'plane.las,two.las', '--csv', 'faults.csv');
    expect([over.code, over.report.findings[0].fault]).toEqual([1, 'overlap']);
    expect(b.read('faults.csv')).toContain('overlap,plane.las,two.las');
    expect(b.run('delivery').code).toBe(2);
  });

  it('merge and convert: every point once', () => {
    const r = b.run('merge', '--in', 'west.las,east.las', '--out', 'whole.las');
    expect([r.code, r.report.points]).toEqual([0, 4800]);
    expect(b.run('inspect', 'whole.las').out).toContain('4800 points');
    expect(b.run('convert', '--in', 'whole.las', '--out', 'whole.csv').code).toBe(0);
    expect(
      b
        .read('whole.csv')
        .trim()
        .split('\n')
        .filter((l) => /^\d/.test(l)),
    ).toHaveLength(4800);
    const wrong = b.run('convert', '--in', 'whole.las', '--out', 'whole.doc');
    expect([wrong.code, wrong.report]).toEqual([2, null]);
  });

  it('reproject: there and back is where it was', () => {
    expect(b.run('reproject', '--in', 'plane.las', '--to', 'EPSG:25833+5773', '--out', 'there.las').code).toBe(0);
    expect(b.run('reproject', '--in', 'there.las', '--to', 'EPSG:25832+5773', '--out', 'back.las').code).toBe(0);
    b.run('convert', '--in', 'back.las', '--out', 'back.csv');
    const [, first] = b
      .read('back.csv')
      .split('\n')
      .filter((l) => /^[\dx]/.test(l));
    const [x, y, z] = first.split(',').map(Number);
    const near = GRID.reduce((m, [e, n]) => Math.min(m, Math.hypot(e - x, n - y, heightAt(e) - z)), 1);
    expect(near).toBeLessThan(0.0005);
    const wrong = b.run('reproject', '--in', 'plane.las', '--to', 'UTM', '--out', 'x.las');
    expect([wrong.code, wrong.err]).toEqual([2, expect.stringContaining('EPSG')]);
  });

  it('smooth: two sheets become one halfway, within the limit', () => {
    const r = b.run('smooth', '--in', 'two.las', '--out', 'smooth.las', '--radius', '0.8', '--thick', '0.1');
    expect(r.code).toBe(0);
    // both sheets move towards each other by half of the five centimetres
    expect(r.report.rms_m).toBeGreaterThan(0.02);
    expect(r.report.rms_m).toBeLessThan(0.03);
    const wrong = b.run('smooth', '--in', 'two.las', '--out', 'x.las', '--radius', 'wide');
    expect([wrong.code, wrong.err]).toEqual([2, expect.stringContaining('--radius is "wide"')]);
  });

  it('plan-check: says when no target can be found', () => {
    const r = b.run('plan-check', '--cloud', 'ground.las', '--marks', 'marks.csv');
    expect([r.code, r.report.count, r.report.within_tolerance]).toEqual([0, 0, null]);
    expect(b.run('plan-check', '--cloud', 'ground.las', '--marks', 'marks.csv', '--edge', '9').code).toBe(2);
    // nothing found keeps no tolerance
    const judged = b.run('plan-check', '--cloud', 'ground.las', '--marks', 'marks.csv', '--tolerance', '0.05');
    expect([judged.code, judged.out]).toEqual([1, expect.stringContaining('0 of 4 targets found')]);
  });

  it('inspect: one file that was cut off is told by name and place', () => {
    const cut = b.run('inspect', 'plane.las', 'marks.csv');
    expect([cut.code, cut.out]).toEqual([0, expect.stringContaining('4800 points')]);
    b.write('cut.las', b.read('plane.las').slice(0, 100));
    expect(b.run('inspect', 'cut.las')).toMatchObject({ code: 1, out: expect.stringMatching(/^cut\.las: .*cut off/) });
    expect(b.run('inspect', 'nowhere.las')).toMatchObject({ code: 2, err: expect.stringContaining('no such file') });
  });
});
