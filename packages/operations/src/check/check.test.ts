import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { loadComputation } from '../computation';
import { chapterOf } from '../test/chapter';
import { OnFiles } from '../test/onFiles';

const CRS = 'EPSG:25832+5773';
const E0 = 467_000;
const N0 = 6_215_000;
/** Level ground of 60 by 60 m at 4 m, a point every half metre. */
const GROUND = Array.from({ length: 120 * 120 }, (_, i) => [
  E0 + 0.25 + 0.5 * (i % 120),
  N0 + 0.25 + 0.5 * Math.floor(i / 120),
  4,
  2,
]);
let files: OnFiles;
let cloud: string;
beforeAll(async () => {
  files = await OnFiles.create();
  cloud = await files.cloud('ground', GROUND, CRS, ['classification']);
});
afterAll(() => files.remove());

type MarkRow = [name: string, role: string, e: number, n: number, h: number];
const HEAD = 'name,role,easting_m,northing_m,height_m,sd_h_m\n';
const text = (rows: MarkRow[], head = '') =>
  head +
  HEAD +
  rows.map(([name, role, e, n, h]) => `${name},${role},${E0 + e},${N0 + n},${h.toFixed(4)},0.002\n`).join('');
const checked = async (rows: MarkRow[], { head = '', ...context }: { head?: string; [more: string]: unknown } = {}) =>
  files.run(
    'check',
    { cloud: [cloud], marks: [await files.put('m.csv', text(rows, head))] },
    {},
    {
      keeps: true,
      crs: CRS,
      ...context,
    },
  );
/** Thirty-six marks on a grid, nine to a quarter, the surface above each by a value of its place. */
const grid = (above: (e: number, n: number, k: number) => number): MarkRow[] =>
  Array.from({ length: 36 }, (_, k) => {
    const [e, n] = [5 + 10 * (k % 6), 5 + 10 * Math.floor(k / 6)];
    return [`K${k}`, 'check', e, n, 4 - above(e, n, k)];
  });
const codes = (ran: { notices: Array<{ code: string }> }) => ran.notices.map((n) => n.code).sort();

describe('heights at marks', () => {
  it('that agree keep the tolerance, with classes and nothing to warn of', async () => {
    // ±5 mm by turns: no bias, no tilt
    const ran = await checked(
      grid((_e, _n, k) => ((k + Math.floor(k / 6)) % 2 ? 0.005 : -0.005)),
      { toleranceM: 0.03 },
    );
    const f = ran.content.figures;
    expect(f.count).toBe(36);
    expect(f.rmse_m).toBeCloseTo(0.005, 4);
    expect(f.within_tolerance).toBe(true);
    expect(ran.made.failed).toBe(false);
    expect(f.bias_significant).toBe(false);
    expect(f.statements.length).toBeGreaterThan(1);
    expect(codes(ran)).toEqual([]);
    expect(ran.made.lines!.at(-1)).toMatch(/^36 check marks: mean -?0\.0/);
  });

  it('all too low, or tilted, are said to be so', async () => {
    const low = await checked(
      grid((_e, _n, k) => 0.04 + ((k + Math.floor(k / 6)) % 2 ? 0.003 : -0.003)),
      { toleranceM: 0.03 },
    );
    expect(low.content.figures.mean_m).toBeCloseTo(0.04, 3);
    expect(codes(low)).toContain('bias');
    expect(low.made.failed).toBe(true);
    const tilted = await checked(
      grid((e, _n, k) => 0.0005 * (e - 30) + ((k + Math.floor(k / 6)) % 2 ? 0.001 : -0.001)),
    );
    expect(codes(tilted)).toContain('tilt');
    expect(tilted.content.figures.trend!.east_m_per_100m).toBeCloseTo(0.05, 3);
    expect(tilted.content.figures.within_tolerance).toBeNull();
    const chapter = await chapterOf<'residuals'>('check', tilted.content);
    expect(chapter).toMatch(/tilt|rise/i);
  });

  it('one that is off is flagged; marks in one corner speak for that corner', async () => {
    const rows = grid((_e, _n, k) => (k === 12 ? 0.3 : (k + Math.floor(k / 6)) % 2 ? 0.004 : -0.004));
    const off = await checked(rows);
    expect(off.content.figures.marks.find((m) => m.name === 'K12')).toMatchObject({ flagged: true, used: true });
    expect(codes(off)).toContain('mark-flagged');
    expect(off.made.lines![0]).toMatch(/^K12 .*FLAGGED/);
    const corner = await checked([
      ...rows.slice(0, 3),
      ...Array.from({ length: 6 }, (_, k): MarkRow => [`E${k}`, 'check', 50 + k, 55, 4]),
    ]);
    expect(codes(corner)).toEqual(expect.arrayContaining(['few-marks', 'marks-spread']));
  });

  it('beside the cloud, or used to make it, prove nothing', async () => {
    const ran = await checked(
      [
        ['K1', 'check', 20, 20, 3.99],
        ['K2', 'check', 500, 500, 4],
        ['K3', 'check', 40, 40, 3.98],
        ['C1', 'control', 30, 30, 4],
      ],
      { usedMarks: { K3: 'placed by it' } },
    );
    expect(ran.content.figures.count).toBe(1);
    expect(codes(ran)).toEqual(expect.arrayContaining(['mark-not-found', 'not-independent', 'few-marks']));
    const found = ran.content.figures.marks.find((m) => m.name === 'K2')!;
    expect(found).toMatchObject({ method: 'none', residual_m: null });
    expect(await ran.text('residuals')).toMatch(/^K2,check,/m);
    const { exports } = await loadComputation('check');
    const feet = exports!.residuals(ran.content as never, { name: 'x', unit: 'usSurveyFoot', path: (sha) => sha });
    expect(feet).toMatch(/_ftUS|_us_?ft|ft/i);
    const none = await checked([['K2', 'check', 500, 500, 4]]);
    expect(none.made.lines!.at(-1)).toBe('No check mark was found on the cloud.');
    expect(none.content.figures.rmse_m).toBeNull();
  });

  it('in another system, or on a cloud without ground, are compared with a warning; on nothing not at all', async () => {
    const other = await checked([['K1', 'check', 20, 20, 4]], { head: '# crs: EPSG:25833+5773\n' });
    expect(codes(other)).toContain('crs-differs');
    const marks = [await files.put('m1.csv', text([['K1', 'check', 20, 20, 3.99]]))];
    const bare = await files.cloud(
      'bare',
      GROUND.map((p) => [...p.slice(0, 3), 1]),
      CRS,
      ['classification'],
    );
    const ran = await files.run('check', { cloud: [bare], marks }, {}, { crs: CRS });
    expect(codes(ran)).toContain('no-ground');
    expect(ran.content.figures.mean_m).toBeCloseTo(0.01, 3);
    const noise = await files.cloud(
      'noise',
      GROUND.map((p) => [...p.slice(0, 3), 7]),
      CRS,
      ['classification'],
    );
    await expect(files.run('check', { cloud: [noise], marks }, {}, { crs: CRS })).rejects.toMatchObject({
      code: 'las-empty',
      file: expect.stringContaining('noise'),
    });
  });
});
