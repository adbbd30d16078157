import { readFile } from 'node:fs/promises';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type Contents } from '@longheron/contract/kinds';
import { DEG } from '@longheron/core/frames';
import { Random } from '@longheron/core/numeric';
import { loadComputation } from '../computation';
import { chapterOf } from '../test/chapter';
import { parseSystem } from '@longheron/formats/crs';
import { writePictureTiff } from '@longheron/formats/geotiff';
import { OnFiles } from '../test/onFiles';

const CRS = 'EPSG:25832+5773';
const E0 = 467_000;
const N0 = 6_215_000;
/** Where marks are said to be, and how far from there their targets are painted, metres; each turned by an angle. */
const PLACES = [
  { name: 'K1', role: 'check', e: 5, n: 5, dE: 0.012, dN: -0.004, turnDeg: 0 },
  { name: 'K2', role: 'check', e: 25, n: 5, dE: 0.008, dN: -0.006, turnDeg: 20 },
  { name: 'K3', role: 'check', e: 25, n: 25, dE: 0.01, dN: -0.002, turnDeg: 35 },
  { name: 'K4', role: 'check', e: 5, n: 25, dE: 0.18, dN: 0.1, turnDeg: 10 },
  { name: 'C1', role: 'control', e: 15, n: 15, dE: 0, dN: 0, turnDeg: 0 },
];
const EDGE_M = 0.6;
const height = (x: number, y: number) => 4 + 0.02 * x - 0.01 * y;

/** Ground about each mark, 2 cm between points, dark with a light target of which two quarters are black. */
function painted(): number[][] {
  const random = new Random(5, 'targets');
  return PLACES.flatMap(({ e, n, dE, dN, turnDeg }) =>
    Array.from({ length: 100 * 100 }, (_, i) => {
      const x = e - 1 + 0.02 * (i % 100) + 0.004 * random.normal();
      const y = n - 1 + 0.02 * Math.floor(i / 100) + 0.004 * random.normal();
      const [c, s] = [Math.cos(turnDeg * DEG), Math.sin(turnDeg * DEG)];
      const [u, v] = [c * (x - e - dE) + s * (y - n - dN), -s * (x - e - dE) + c * (y - n - dN)];
      const inside = Math.max(Math.abs(u), Math.abs(v)) < EDGE_M / 2;
      const brightness = inside ? (u * v > 0 ? 60_000 : 3_000) : 22_000;
      return [E0 + x, N0 + y, height(x, y), 2, Math.round(brightness + 900 * random.normal())];
    }),
  );
}

let files: OnFiles;
let cloud: string;
let marks: string;
let made: Awaited<ReturnType<typeof run>>;
const run = (settings = {}, context: object = {}, more: object = {}) =>
  files.run('plan-check', { cloud: [cloud], marks: [marks], ...more }, settings, { keeps: true, crs: CRS, ...context });

beforeAll(async () => {
  files = await OnFiles.create();
  cloud = await files.cloud('targets', painted(), CRS, ['classification', 'intensity']);
  const rows = PLACES.map(
    (p) => `${p.name},${p.role},${E0 + p.e},${N0 + p.n},${height(p.e, p.n).toFixed(4)},0.002,0.002,0.003\n`,
  );
  rows.push(`K9,check,${E0 + 500},${N0 + 500},4,0.002,0.002,0.003\n`);
  marks = await files.put(
    'marks.csv',
    `name,role,easting_m,northing_m,height_m,sd_e_m,sd_n_m,sd_h_m\n${rows.join('')}`,
  );
  made = await run({}, { toleranceM: 0.03, usedMarks: {} });
});
afterAll(() => files.remove());

const of = (content: Contents['plan-check'], name: string) => content.figures.marks.find((m) => m.name === name)!;

describe('targets of marks in a cloud', () => {
  it('are found where they are painted, to some millimetres', () => {
    for (const p of PLACES) {
      const m = of(made.content, p.name);
      expect(m.how).toBe('fit');
      expect(Math.abs(m.dE! - p.dE)).toBeLessThan(0.004);
      expect(Math.abs(m.dN! - p.dN)).toBeLessThan(0.004);
      // heights are those of the ground at the place found
      expect(m.dH!).toBeCloseTo(0.02 * p.dE - 0.01 * p.dN, 2);
    }
    expect(of(made.content, 'K9')).toMatchObject({ how: null, found: null, note: 'no points about the mark' });
  });

  it('enter the statistics when they are check marks; one that is off is flagged and said', () => {
    const { statistics: s, within } = made.content.figures;
    expect(s.count).toBe(4);
    // of 12, 8, 10 and 180 mm
    expect(s.meanE).toBeCloseTo(0.0525, 2);
    expect(within).toBe(false);
    expect(made.made.failed).toBe(true);
    expect(of(made.content, 'K4').flagged).toBe(true);
    expect(of(made.content, 'K2').flagged).toBe(false);
    expect(of(made.content, 'C1')).toMatchObject({ used: false, apart: 'role' });
    const codes = made.notices.map((n) => n.code);
    expect(codes).toContain('plan-flagged');
    expect(codes).toContain('few-plan-marks');
    expect(made.made.lines![0]).toBe('5 of 6 targets found.');
  });

  it('have a picture each, with the bright quarters where they lie', async () => {
    const png = await readFile(files.path(of(made.content, 'K1').picture!));
    const { data, info } = await sharp(png).raw().toBuffer({ resolveWithObject: true });
    expect([info.width, info.height]).toEqual([150, 150]);
    const grey = (dx: number, dy: number) =>
      data[info.channels * (Math.round((1.5 - dy) / 0.02) * 150 + Math.round((1.5 + dx) / 0.02))];
    expect(grey(0.15, 0.15)).toBeGreaterThan(200);
    expect(grey(-0.15, 0.15)).toBeLessThan(60);
  });

  it('are a table in any unit, and a chapter', async () => {
    const csv = await made.text('plan');
    expect(csv).toMatch(/^K1,check,yes,fit,467005\.0000,6215005\.0000,/m);
    expect(csv).toMatch(/^K9,check,no,none,/m);
    const { exports } = await loadComputation('plan-check');
    const feet = exports!.plan(made.content as never, { name: 'x', unit: 'foot', path: (sha) => sha });
    expect(feet).toMatch(/east_ft/);
    const chapter = await chapterOf<'plan-check'>('plan-check', made.content);
    expect(chapter).toMatch(/not kept/);
    expect(chapter).toMatch(/K9 \(no points about the mark\)/);
    expect(chapter).toMatch(/no verdict of conformity/);
  });

  it('that were used to make the cloud prove nothing', async () => {
    const { content, notices } = await run({}, { usedMarks: { K1: 'placed by it' } });
    expect(of(content, 'K1')).toMatchObject({ used: false, apart: 'not independent' });
    expect(notices.map((n) => n.code)).toContain('not-independent');
  });

  it('looked for too narrowly or of another kind are not found, with the reason', async () => {
    const narrow = await run({ searchM: 0.05 });
    expect(of(narrow.content, 'K4').how).toBeNull();
    const spheres = await run({ target: 'sphere' });
    expect(spheres.content.figures.statistics.count).toBe(0);
    expect(spheres.content.figures.within).toBeNull();
    expect(of(spheres.content, 'K1').note.length).toBeGreaterThan(5);
    expect(await chapterOf<'plan-check'>('plan-check', spheres.content)).toMatch(/no statement on plan is made/);
  });
});

describe('what was taped and levelled', () => {
  it('agrees, differs or cannot be compared', async () => {
    const [k1, k2] = [PLACES[0], PLACES[1]];
    const rise = height(k2.e, k2.n) - height(k1.e, k1.n);
    const rows = [
      `K1,K2,distance,${Math.hypot(20 + k2.dE - k1.dE, rise).toFixed(4)},0.003\n`,
      `K1,K2,height,${rise.toFixed(4)},0.002\n`,
      'K2,K3,distance,20.25,0.003\n',
      'K1,K9,distance,500,0.003\n',
    ];
    const measured = await files.put('measured.csv', `from,to,kind,value_m,sd_m\n${rows.join('')}`);
    const { content, notices } = await run({}, {}, { measured: [measured] });
    const { distances } = content.figures;
    expect(distances.map((d) => d.agrees)).toEqual([true, true, false, null]);
    // on the ground: a grid of this zone at 467 km east is 0.38 per mille short there
    expect(distances[0].differenceM!).toBeGreaterThan(0);
    expect(distances[0].differenceM!).toBeLessThan(0.015);
    expect(distances[3].note).toBe('K9 not found in the cloud');
    expect(notices.filter((n) => n.code === 'distance-differs')).toHaveLength(1);
    expect(await chapterOf<'plan-check'>('plan-check', content)).toMatch(/levelled.*agrees/);
    const { exports } = await loadComputation('plan-check');
    const csv = exports!.plan(content as never, { name: 'x', unit: 'metre', path: (sha) => sha });
    expect(csv).toMatch(/^K2,K3,distance,20\.2500,/m);
  });
});

describe('targets of marks in an orthophoto', () => {
  const CELL_M = 0.1;
  const CELLS = 320;
  /** Mean tone of a cell, by 10 × 10 places: grass, with the targets where they are painted. */
  const tone = (column: number, row: number) => {
    const [e, n] = [CELL_M * (column + 0.5) - 1, CELL_M * (CELLS - row - 0.5) - 1];
    if (!PLACES.some((p) => Math.hypot(e - p.e, n - p.n) < 1)) return 90;
    let sum = 0;
    for (let k = 0; k < 100; k++) {
      const x = CELL_M * (column + ((k % 10) + 0.5) / 10) - 1;
      const y = CELL_M * (CELLS - row - (Math.floor(k / 10) + 0.5) / 10) - 1;
      const p = PLACES.find((q) => Math.hypot(x - q.e, y - q.n) < 1);
      if (!p) sum += 90;
      else {
        const [c, s] = [Math.cos(p.turnDeg * DEG), Math.sin(p.turnDeg * DEG)];
        const [u, v] = [c * (x - p.e - p.dE) + s * (y - p.n - p.dN), -s * (x - p.e - p.dE) + c * (y - p.n - p.dN)];
        sum += Math.max(Math.abs(u), Math.abs(v)) < EDGE_M / 2 ? (u * v > 0 ? 240 : 15) : 90;
      }
    }
    return sum / 100;
  };

  it('are found to a tenth of a cell where they are painted, with heights of the cloud', async () => {
    const random = new Random(2, 'grass');
    const rgba = new Uint8Array(4 * CELLS * CELLS).fill(255);
    for (let r = 0; r < CELLS; r++)
      for (let c = 0; c < CELLS; c++)
        rgba.fill(Math.round(tone(c, r) + 2 * random.normal()), 4 * (r * CELLS + c), 4 * (r * CELLS + c) + 3);
    const path = files.path('ortho.tif');
    const grid = { columns: CELLS, rows: CELLS, cellM: CELL_M, westM: E0 - 1, northM: N0 - 1 + CELL_M * CELLS };
    await writePictureTiff(path, { ...grid, rgba }, parseSystem(CRS).definition);
    const { content } = await run({}, {}, { picture: [path] });
    for (const p of PLACES) {
      const m = of(content, p.name);
      expect(m.how).toBe('fit');
      expect(m.note).toContain('cells of 10.0 cm');
      expect(Math.hypot(m.dE! - p.dE, m.dN! - p.dN)).toBeLessThan(0.01);
      expect(Math.abs(m.dH!)).toBeLessThan(0.01);
    }
    expect(of(content, 'K9')).toMatchObject({ how: null, note: expect.stringContaining('does not reach') });
    // 37 cells of 10 cm about each mark, one look for all
    expect(content.patch).toEqual({ edgeM: expect.closeTo(3.7, 9), cellM: CELL_M });
    const { picture } = content.sights[0];
    const drawn = await sharp(await readFile(files.path(picture!))).metadata();
    expect([drawn.width, drawn.height]).toEqual([37 * 8, 37 * 8]);
    // too coarse for its targets
    const coarse = await run({ edgeM: 0.2 }, {}, { picture: [path] });
    expect(of(coarse.content, 'K1')).toMatchObject({ how: null, note: expect.stringContaining('too few') });
  });
});
