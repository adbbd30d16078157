import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DEG, gridText, planFactor, type ReferenceSystem } from '@longheron/core/frames';
import { parseSystem, useGrid } from '@longheron/formats/crs';
import { chapterOf } from '../test/chapter';
import { OnFiles } from '../test/onFiles';

const CRS = 'EPSG:25832+5773';
const TURN = 12.5 * DEG;
const SCALE = 1.00042;
let files: OnFiles;
let base: ReferenceSystem;
beforeAll(async () => {
  files = await OnFiles.create();
  base = parseSystem(CRS);
});
afterAll(() => files.remove());

/** Six marks around the site: easting, northing, height in the projection. */
const CONTROL = [
  ['M1', 467010.2, 6215020.4, 3.214],
  ['M2', 467310.8, 6215480.1, 5.871],
  ['M3', 466820.5, 6215710.9, 2.99],
  ['M4', 467120.0, 6214650.3, 7.443],
  ['M5', 466700.7, 6214900.6, 4.12],
  ['M6', 467405.1, 6214980.2, 6.305],
] as const;
/** Where they lie on site, in closed form: turned clockwise, stretched, moved; heights lower by 1.25 m and 8 mm per km to the north. */
const localOf = ([, e, n, h]: (typeof CONTROL)[number], slope = 8e-6): [number, number, number] => {
  const [x, y] = [e - 467000, n - 6215000];
  return [
    5000 + SCALE * (Math.cos(TURN) * x + Math.sin(TURN) * y),
    2000 + SCALE * (Math.cos(TURN) * y - Math.sin(TURN) * x),
    h - 1.25 + slope * y,
  ];
};
const csv = (rows: ReadonlyArray<readonly [string, ...number[]]>) =>
  `name,role,easting_m,northing_m,height_m\n${rows.map(([name, ...v]) => `${name},control,${v.map((x) => x.toFixed(4)).join(',')}`).join('\n')}\n`;
const control = () => files.put('control.csv', `# crs: ${CRS}\n${csv(CONTROL.map((c) => [c[0], c[1], c[2], c[3]]))}`);
const local = (change = (row: [string, number, number, number]) => row) =>
  files.put('site.csv', csv(CONTROL.map((c) => change([c[0], ...localOf(c)]))));

async function run(
  settings: object,
  change?: (row: [string, number, number, number]) => [string, number, number, number],
) {
  const paths = { local: [await local(change)], control: [await control()] };
  return files.run('local-system', paths, { name: 'Quay', ...settings }, { crs: CRS });
}

describe('a local system from marks', () => {
  it('carries any place of the site within a millimetre of the closed form', async () => {
    const ran = await run({ heights: 'slopes' });
    const system = parseSystem(gridText(useGrid(ran.path('system'))));
    const [geo, at] = [new Float64Array(3), new Float64Array(3)];
    for (const place of [
      ['a', 467050, 6215300, 4],
      ['b', 466900, 6214800, 6],
    ] as unknown as typeof CONTROL) {
      base.unproject(place[1], place[2], place[3], geo);
      system.project(geo[0], geo[1], geo[2], at);
      const truth = localOf(place);
      truth.forEach((v, k) => expect(Math.abs(at[k] - v)).toBeLessThan(1e-3));
      system.unproject(at[0], at[1], at[2], geo);
      base.project(geo[0], geo[1], geo[2], at);
      [place[1], place[2], place[3]].forEach((v, k) => expect(Math.abs(at[k] - v)).toBeLessThan(1e-4));
    }
    const { plan, heights, marks } = ran.content.site!;
    expect(plan!.scalePpm).toBeCloseTo(420, 0);
    expect(plan!.turnSec / 3600).toBeCloseTo(12.5, 5);
    expect(heights!.slopeNorthMmKm).toBeCloseTo(8, 0);
    expect(marks.every((m) => m.planM! < 2e-4 && Math.abs(m.hM!) < 2e-4 && m.says === '')).toBe(true);
    expect(ran.notices).toEqual([]);
  });

  it('names the mark that was typed wrong, shows it when it is left out, and is right without it', async () => {
    const wrong = (row: [string, number, number, number]): [string, number, number, number] =>
      row[0] === 'M4' ? [row[0], row[1] + 0.25, row[2], row[3]] : row;
    const bent = await run({}, wrong);
    expect(bent.notices.map((n) => n.code)).toEqual(['site-stands-out']);
    expect(bent.notices[0].text).toMatch(/^M4 does not go with the other marks in plan: they miss it by 250 mm/);
    const { content, notices } = await run({ leftOut: ['M4'] }, wrong);
    expect(notices).toEqual([]);
    const m4 = content.site!.marks.find((m) => m.name === 'M4')!;
    expect([m4.says, m4.missPlanM]).toEqual(['left out', null]);
    expect(Math.abs(m4.planM! - 0.25)).toBeLessThan(1e-3);
    expect(content.site!.plan!.scalePpm).toBeCloseTo(420, 0);
  });

  it('of heights alone is a geoid with the fitted correction', async () => {
    const ran = await run({ plan: 'none', heights: 'slopes' });
    const surface = gridText(useGrid(ran.path('system')));
    const system = parseSystem(`EPSG:25832+${surface}`);
    const [geo, at] = [new Float64Array(3), new Float64Array(3)];
    base.unproject(467050, 6215300, 4, geo);
    system.project(geo[0], geo[1], geo[2], at);
    expect(Math.abs(at[0] - 467050)).toBeLessThan(1e-6);
    expect(Math.abs(at[2] - (4 - 1.25 + 8e-6 * 300))).toBeLessThan(1e-3);
    expect(system.definition.verticalName).toBe('Quay, heights');
    expect(ran.content.site!.marks[0].eM).toBeNull();
  });

  it('with lengths as on the ground has the scale of the ground', async () => {
    const ran = await run({ plan: 'ground', heights: 'none' });
    const mean = (k: 1 | 2 | 3) => CONTROL.reduce((s, c) => s + c[k], 0) / CONTROL.length;
    const factor = planFactor(base, [mean(1), mean(2), mean(3)]);
    expect(ran.content.site!.plan!.scalePpm).toBeCloseTo((1 / factor - 1) * 1e6, 6);
    expect(ran.content.site!.heights).toBeUndefined();
  });

  it('says where nothing checks it, marks that stand alone, and lists in another foot', async () => {
    const few = await run({ leftOut: ['M1', 'M2', 'M3', 'M4', 'M9'], heights: 'none' });
    expect(few.notices.map((n) => n.code).sort()).toEqual(['site-left-out', 'site-unchecked']);
    const other = await run({ heights: 'none' }, ([name, ...v]) => [name === 'M6' ? 'X' : name, ...v]);
    expect(other.notices[0].text).toBe('2 marks stand in one of the lists alone.');
    // exact local lengths of the projection, but each foot taken for the other kind
    const feet = await run({ heights: 'none' }, ([name, , , h]) => {
      const c = CONTROL.find((m) => m[0] === name)!;
      return [name, 5e4 + (c[1] - 467000) * (1 + 2e-6), 2e4 + (c[2] - 6215000) * (1 + 2e-6), h];
    });
    expect(feet.notices.map((n) => n.code)).toEqual(['site-feet']);
    expect(feet.notices[0].text).toMatch(/2\.0 ppm longer .* US survey foot and the international foot/);
    const metres = await run({ heights: 'none' }, ([name, e, n, h]) => [
      name,
      ((e / SCALE) * 1) / 0.3048,
      n / SCALE / 0.3048,
      h,
    ]);
    expect(metres.notices.find((n) => n.code === 'site-feet')?.text).toMatch(/in feet and read as metres/);
  });

  it('refuses marks of other names, and a system that is fitted already', async () => {
    await expect(run({}, ([name, ...v]) => [`${name}x`, ...v])).rejects.toThrow(/No mark stands in both lists/);
    const first = await run({});
    const crs = gridText(useGrid(first.path('system')));
    const paths = { local: [await local()], control: [await control()] };
    await expect(files.run('local-system', paths, {}, { crs })).rejects.toThrow(/fitted to marks already/);
    await expect(run({ plan: 'none', heights: 'none' })).rejects.toThrow(/Neither plan nor heights/);
  });

  it('has its chapter in the report', async () => {
    const { content } = await run({ heights: 'slopes' });
    const words = await chapterOf('local-system', content);
    expect(words).toContain('Quay');
    expect(words).toMatch(/Scale against the projection 420\.0\d/);
    expect(words).toContain('M6');
  });
});

describe('a system with lengths as on the ground', () => {
  const settings = {
    name: 'Ground',
    eastingM: 467000,
    northingM: 6215000,
    heightM: 12,
    localEastM: 5000,
    localNorthM: 5000,
  };

  it('keeps its point, and a length measured there', async () => {
    const ran = await files.run('ground-system', {}, settings, { crs: CRS });
    const system = parseSystem(gridText(useGrid(ran.path('system'))));
    const [geo, at] = [new Float64Array(3), new Float64Array(3)];
    base.unproject(467000, 6215000, 12, geo);
    system.project(geo[0], geo[1], geo[2], at);
    expect([at[0], at[1], at[2]].map((v) => Number(v.toFixed(6)))).toEqual([5000, 5000, 12]);
    // a small step to the north along the meridian, by the radius there and the height of the ground
    const { a, f } = base.ellipsoid;
    const e2 = f * (2 - f);
    const step = 1e-6;
    const radius = (a * (1 - e2)) / (1 - e2 * Math.sin(geo[0]) ** 2) ** 1.5 + geo[2];
    const [e0, n0] = at;
    system.project(geo[0] + step, geo[1], geo[2], at);
    expect(Math.hypot(at[0] - e0, at[1] - n0) / (step * radius)).toBeCloseTo(1, 5);
  });

  it('asks for its point, and refuses one that lies nowhere', async () => {
    await expect(files.run('ground-system', {}, { name: 'x' }, { crs: CRS })).rejects.toThrow(
      /Say easting and northing/,
    );
    await expect(
      files.run('ground-system', {}, { ...settings, eastingM: 9e7, northingM: 9e7 }, { crs: CRS }),
    ).rejects.toThrow(/lies nowhere/);
  });
});

describe('a projection with parameters of its own', () => {
  it('is that of the list when it has the same parameters', async () => {
    const ran = await files.run('own-projection', {}, { lonDeg: 9, scale: 0.9996 });
    const own = parseSystem(`${gridText(useGrid(ran.path('system')))}+5773`);
    const [a, b] = [new Float64Array(3), new Float64Array(3)];
    own.project(56.08 * DEG, 8.47 * DEG, 40, a);
    base.project(56.08 * DEG, 8.47 * DEG, 40, b);
    a.forEach((v, k) => expect(Math.abs(v - b[k])).toBeLessThan(1e-7));
  });

  it.each(['transverse-mercator', 'lambert-conic', 'stereographic'])(
    'as %s has lengths of the ground at its height',
    async (projection) => {
      const settings = { projection, latDeg: 56.08, lonDeg: 8.47, groundM: 900, unit: 'usSurveyFoot' };
      const ran = await files.run('own-projection', {}, settings);
      const own = parseSystem(gridText(useGrid(ran.path('system'))));
      const [a, b] = [new Float64Array(3), new Float64Array(3)];
      own.project(56.08 * DEG, 8.47 * DEG, 900, a);
      expect([a[0], a[1]].map((v) => Number(v.toFixed(6)))).toEqual([500000, expect.closeTo(0, 6)]);
      own.project((56.08 + 1e-4) * DEG, 8.47 * DEG, 900, b);
      const { a: axis, f } = own.ellipsoid;
      const e2 = f * (2 - f);
      const s2 = Math.sin(56.08005 * DEG) ** 2;
      const ground = 1e-4 * DEG * ((axis * (1 - e2)) / (1 - e2 * s2) ** 1.5 + 900);
      // the mean radius serves for all directions: along the meridian it is good to 0.2 % of the height's share
      expect(Math.abs((b[1] - a[1]) / ground - 1)).toBeLessThan(5e-7);
      expect(own.definition.metresPerUnit).toBeCloseTo(1200 / 3937, 15);
    },
  );
});

describe('a chart datum', () => {
  it('by a number above the ellipsoid, as depths', async () => {
    const ran = await files.run('chart-datum', {}, { name: 'Reach datum', separationM: 39.21, depths: true });
    const system = parseSystem(`EPSG:25832+${gridText(useGrid(ran.path('system')))}`);
    const at = new Float64Array(3);
    system.project(56.08 * DEG, 8.47 * DEG, 36.01, at);
    expect(at[2]).toBeCloseTo(-3.2, 9);
    expect(system.definition.depths).toBe(true);
    expect(system.geoid.statement).toMatch(/^Reach datum.*positive down/s);
  });

  it('by a gauge that knows its datum, and by a surface', async () => {
    const gauge = await files.put(
      'gauge.csv',
      '# above: LAT\n# datum_ell_m: 38.5\ngps_week,gps_sow,level_m\n2423,1,0.3\n',
    );
    const ran = await files.run('chart-datum', { gauge: [gauge] }, { name: 'Reach datum' });
    expect(ran.content.site!.facts).toContainEqual(['Datum', '38.500 m above the ellipsoid']);
    expect(ran.notices.map((n) => n.code)).toEqual(['chart-name']);
    // 3 × 3 values from the north-west, rising 1 m per degree to the east
    const surface = await files.put('lat.txt', `55 57 7 9 1 1\n38 39 40\n38 39 40\n38 39 40\n`);
    const by = await files.run('chart-datum', { surface: [surface] }, { name: 'Surface datum' });
    useGrid(surface);
    const system = parseSystem(`EPSG:25832+${gridText(useGrid(by.path('system')))}`);
    const at = new Float64Array(3);
    system.project(56.25 * DEG, 8.25 * DEG, 40, at);
    expect(at[2]).toBeCloseTo(40 - 39.25, 6);
  });

  it('is asked for in one way, not two', async () => {
    await expect(files.run('chart-datum', {}, {})).rejects.toThrow(/Give one of the three/);
    const silent = await files.put('silent.csv', 'gps_week,gps_sow,level_m\n2423,1,0.3\n');
    await expect(files.run('chart-datum', { gauge: [silent] }, {})).rejects.toThrow(/does not say how high/);
  });
});
