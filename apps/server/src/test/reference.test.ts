import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type ChangedDto, type DatasetDto, type NoticeDto, type ProjectDto } from '@longheron/contract/api';
import { parseSystem } from '@longheron/formats/crs';
import { contentOf, testServer, type TestServer } from './server';

let s: TestServer;
const root = mkdtempSync(join(tmpdir(), 'longheron-reference-'));
const UTM = { horizontal: 25832, vertical: 5773, unit: 'metre', time: 'gps' };
const datasets = (project = 1) => s.get<DatasetDto[]>(`/projects/${project}/datasets`);
async function take(name: string, text: string, project = 1): Promise<DatasetDto> {
  writeFileSync(join(root, name), text);
  await s.send('POST', `/projects/${project}/take`, { paths: [join(root, name)] });
  return s.until(async () => (await datasets(project)).find((d) => d.name === name));
}
const set = (line: object, project = 1) => s.send('PUT', `/projects/${project}/reference`, line);
const marksOf = async (name: string) => {
  const d = (await datasets()).find((x) => x.name === name)!;
  return contentOf(d, 'marks');
};
const CONTROL: Array<[string, number, number, number]> = [
  ['M1', 467010.2, 6215020.4, 3.214],
  ['M2', 467310.8, 6215480.1, 5.871],
  ['M3', 466820.5, 6215710.9, 2.99],
  ['M4', 467120, 6214650.3, 7.443],
];
const list = (rows: ReadonlyArray<readonly [string, ...number[]]>, crs = '') =>
  `${crs && `# crs: ${crs}\n`}name,role,easting_m,northing_m,height_m\n${rows.map(([name, ...v]) => `${name},control,${v.map((x) => x.toFixed(4)).join(',')}`).join('\n')}\n`;
/** On site: a quarter turn clockwise; heights 2 m lower. */
const local = (e: number, n: number, h: number) => [1000 + (n - 6215000), 2000 - (e - 467000), h - 2] as const;

beforeAll(async () => {
  s = await testServer('none', [root]);
  await s.send('POST', '/projects', { name: 'Quay' });
  await set(UTM);
}, 900_000);
afterAll(async () => {
  await s.stop();
  rmSync(root, { recursive: true });
});

describe('another reference line', () => {
  it('says beforehand what it does to coordinates and to what the project holds, and changes nothing', async () => {
    await take('control.csv', list(CONTROL, 'EPSG:25832+5773'));
    await take(
      'area.json',
      '{"type":"Polygon","coordinates":[[[467000,6215000],[467100,6215000],[467100,6215100],[467000,6215000]]]}',
    );
    const { body } = await s.send('POST', '/projects/1/reference/preview', { ...UTM, horizontal: 25833 });
    const { moved, items } = body as unknown as ChangedDto;
    const [geo, at] = [new Float64Array(3), new Float64Array(3)];
    parseSystem('EPSG:25832+5773').unproject(467010.2, 6215020.4, 3.214, geo);
    parseSystem('EPSG:25833+5773').project(geo[0], geo[1], geo[2], at);
    expect(moved!.of).toBe('mark M1');
    expect(moved!.eastingM[0]).toBeCloseTo(467010.2, 4);
    expect(moved!.eastingM[1]).toBeCloseTo(at[0], 4);
    expect(moved!.heightM[1] - moved!.heightM[0]).toBeCloseTo(0, 6);
    expect(items.map((i) => [i.name, i.what])).toEqual([
      ['control.csv', 'carried'],
      ['area.json', 'carried'],
    ]);
    expect((await s.get<ProjectDto>('/projects/1')).reference!.horizontal).toBe(25832);
    const heights = await s.send('POST', '/projects/1/reference/preview', { ...UTM, vertical: 0 });
    const up = (heights.body as unknown as ChangedDto).moved!.heightM;
    // EGM96 lies 40 to 41 m above the ellipsoid here
    expect(up[1] - up[0]).toBeGreaterThan(40);
    expect(up[1] - up[0]).toBeLessThan(41);
  });

  it('carries marks and outlines with it, there and back to a tenth of a millimetre', async () => {
    await set({ ...UTM, horizontal: 25833 });
    const moved = await marksOf('control.csv');
    expect(moved.crs).toBe('EPSG:25833+5773');
    expect(moved.how).toBe('carried from EPSG:25832+5773 to EPSG:25833+5773');
    const [geo, at] = [new Float64Array(3), new Float64Array(3)];
    parseSystem('EPSG:25832+5773').unproject(...(CONTROL[0].slice(1) as [number, number, number]), geo);
    parseSystem('EPSG:25833+5773').project(geo[0], geo[1], geo[2], at);
    expect(Math.abs(moved.marks[0].eastingM - at[0])).toBeLessThan(1e-4);
    const area = (await datasets()).find((d) => d.kind === 'outlines')!;
    const [outline] = await s.get<Array<{ parts: number[][] }>>(`/projects/1/datasets/${area.id}/outlines`);
    parseSystem('EPSG:25832').unproject(467000, 6215000, 0, geo);
    parseSystem('EPSG:25833').project(geo[0], geo[1], geo[2], at);
    expect(Math.abs(outline.parts[0][0] - at[0])).toBeLessThan(1e-3);
    await set(UTM);
    const back = await marksOf('control.csv');
    back.marks.forEach((m, i) => {
      expect(Math.abs(m.eastingM - CONTROL[i][1])).toBeLessThan(1e-4);
      expect(Math.abs(m.northingM - CONTROL[i][2])).toBeLessThan(1e-4);
      expect(Math.abs(m.heightM - CONTROL[i][3])).toBeLessThan(1e-4);
    });
  });

  it('a list in another system is noticed, and carried in by one action', async () => {
    const [geo, at] = [new Float64Array(3), new Float64Array(3)];
    parseSystem('EPSG:25832+5773').unproject(467500, 6215500, 4, geo);
    parseSystem('EPSG:25833+5773').project(geo[0], geo[1], geo[2], at);
    await take('other.csv', list([['Z1', at[0], at[1], at[2]]], 'EPSG:25833+5773'));
    const open = async () =>
      (await s.get<NoticeDto[]>('/projects/1/notices')).find((n) => n.code === 'marks-other-system');
    const notice = await s.until(open);
    expect(notice.fix).toBe("Carry the list into the project's system");
    expect((await s.send('POST', `/projects/1/notices/${notice.id}/fix`, {})).status).toBe(204);
    const [mark] = (await marksOf('other.csv')).marks;
    expect(Math.hypot(mark.eastingM - 467500, mark.northingM - 6215500)).toBeLessThan(1e-3);
  });
});

describe('a local system of the project', () => {
  let system: DatasetDto;
  it('is made from marks, and is one that the project can work in', async () => {
    const site = await take('site.csv', list(CONTROL.map(([name, e, n, h]) => [name, ...local(e, n, h)] as const)));
    const control = (await datasets()).find((d) => d.name === 'control.csv')!;
    await s.send('POST', '/projects/1/runs', {
      operation: 'local-system',
      inputs: { local: [site.id], control: [control.id] },
      settings: { name: 'Quay' },
    });
    system = await s.until(async () => (await datasets()).find((d) => d.kind === 'system'));
    expect(system.name).toBe('Quay.wkt');
    const { site: found } = contentOf(system, 'system');
    expect(found!.plan!.turnSec / 3600).toBeCloseTo(90, 4);
    expect(found!.heights!.offsetM).toBeCloseTo(-2, 3);
    const { body } = await set({ ...UTM, horizontal: 0, plan: system.id, ownHeights: true, vertical: 0 });
    const { reference } = body as unknown as ProjectDto;
    expect(reference).toMatchObject({
      horizontal: 0,
      horizontalName: 'Quay',
      proj4: '',
      fileHeights: 'used',
      datumName: 'ETRS89',
    });
    // the control list came along, and stands where the local one says
    (await marksOf('control.csv')).marks.forEach((m, i) => {
      const [e, n, h] = local(CONTROL[i][1], CONTROL[i][2], CONTROL[i][3]);
      expect(Math.hypot(m.eastingM - e, m.northingM - n)).toBeLessThan(1e-3);
      expect(Math.abs(m.heightM - h)).toBeLessThan(1e-3);
    });
  });

  it('stays as it was found, and so does the list on site, while everything else comes along', async () => {
    expect((await datasets()).find((d) => d.id === system.id)!.outOfDate).toBe(false);
    (await marksOf('site.csv')).marks.forEach((m, i) =>
      expect(m.eastingM).toBeCloseTo(local(CONTROL[i][1], CONTROL[i][2], CONTROL[i][3])[0], 4),
    );
  });

  it('goes out with its bytes, and its heights can be left for ellipsoidal ones', async () => {
    // as long as the project works in it, it stays
    const gone = await s.send('DELETE', `/projects/1/datasets/${system.id}`);
    expect([gone.status, gone.body.title]).toEqual([409, 'The reference line uses Quay.wkt.']);
    const wkt = await (await fetch(`${s.base}/api/projects/1/datasets/${system.id}/export/wkt`)).text();
    expect(wkt).toMatch(/^COMPOUNDCRS\["Quay",DERIVEDPROJCRS/);
    const { body } = await set({ ...UTM, horizontal: 0, plan: system.id, vertical: 0 });
    expect((body as unknown as ProjectDto).reference).toMatchObject({
      fileHeights: 'left',
      verticalName: 'ellipsoidal height',
    });
    await set(UTM);
    expect((await set({ ...UTM, plan: 9999 })).body.code).toBe('grid-missing');
    expect((await set({ ...UTM, horizontal: 0 })).status).toBe(400);
  });

  it('is taken over by another project, file and all', async () => {
    await set({ ...UTM, horizontal: 0, plan: system.id, ownHeights: true, vertical: 0 });
    const made = await s.send('POST', '/projects', { name: 'Next year' });
    const id = Number(made.body.id);
    const taken = await s.send('POST', `/projects/${id}/reference/take`, { from: 1 });
    const plan = taken.body.plan as { dataset: number; name: string };
    const copy = (await datasets(id)).find((d) => d.id === plan.dataset)!;
    expect([copy.kind, copy.name]).toEqual(['system', 'Quay.wkt']);
    expect((await s.get<ProjectDto>(`/projects/${id}`)).reference).toBeNull();
    // again: the same file is not copied twice
    const again = await s.send('POST', `/projects/${id}/reference/take`, { from: 1 });
    expect((again.body.plan as { dataset: number }).dataset).toBe(plan.dataset);
    expect((await set({ ...UTM, horizontal: 0, plan: plan.dataset, ownHeights: true, vertical: 0 }, id)).status).toBe(
      200,
    );
    expect((await s.send('POST', `/projects/${id}/reference/take`, { from: 999 })).status).toBe(404);
    await set(UTM);
  });
});

describe('what the files speak for', () => {
  it('is told by trajectories before lists before headers, and zero positions at the head spoil nothing', async () => {
    const made = await s.send('POST', '/projects', { name: 'Empty' });
    const id = Number(made.body.id);
    const rows = (from: number, lat: number, lon: number, n: number) =>
      Array.from({ length: n }, (_, k) => `2423,${from + k},${lat ? lat + k * 1e-6 : 0},${lon},45,0,0,0\n`).join('');
    const head = '# crs: EPSG:4937\ngps_week,gps_sow,lat_deg,lon_deg,h_ell_m,roll_deg,pitch_deg,heading_deg\n';
    await take('drive.csv', `${head}${rows(100, 0, 0, 5)}2423,106,-60,170,45,0,0,0\n${rows(110, 56.08, 8.47, 60)}`, id);
    await take('marks33.csv', list([['A', 250000, 6220000, 3]], 'EPSG:25833+5773'), id);
    const said = await s.get<Array<{ horizontal: number; because: string }>>(`/projects/${id}/suggested-reference`);
    expect(said.map((x) => x.horizontal)).toEqual([25832, 25833]);
    expect(said[0].because).toBe('"drive.csv" lies around 56.080°, 8.470°');
    const codes = (await s.get<NoticeDto[]>(`/projects/${id}/notices`)).map((n) => n.code);
    expect(codes).toEqual(expect.arrayContaining(['trajectory-zero', 'trajectory-absurd']));
  });
});

describe('tolerances', () => {
  it('stand apart for plan, heights, classes and deliverables; each is checked', async () => {
    const before = await s.get<ProjectDto>('/projects/1');
    expect(before).toMatchObject({
      toleranceM: 0.03,
      planToleranceM: 0.03,
      classTolerance: 95,
      surfaceToleranceM: 0.02,
    });
    const change = { planToleranceM: 0.05, classTolerance: 98, surfaceToleranceM: 0.01 };
    const { body } = await s.send('PATCH', '/projects/1', change);
    expect(body).toMatchObject({ toleranceM: 0.03, ...change });
    expect((await s.send('PATCH', '/projects/1', { classTolerance: 101 })).body.title).toMatch(/more than 100 %/);
    expect((await s.send('PATCH', '/projects/1', { planToleranceM: 0 })).status).toBe(400);
  });

  it('another one makes the verdict that used it out of date, and no other', async () => {
    const points = Array.from(
      { length: 1600 },
      (_, i) => `${467000 + (i % 40) * 0.5} ${6215000 + Math.floor(i / 40) * 0.5} 3 2`,
    );
    writeFileSync(join(root, 'ground.xyz'), `x y z classification\n${points.join('\n')}\n`);
    await s.send('POST', '/projects/1/take', { paths: [join(root, 'ground.xyz')] });
    const cloud = await s.until(async () =>
      (await datasets()).find((d) => d.kind === 'point-cloud' && contentOf(d, 'point-cloud').index),
    );
    const marks = await take(
      'checks.csv',
      `# crs: EPSG:25832+5773\nname,role,easting_m,northing_m,height_m\nK1,check,467010,6215010,3.01\n`,
    );
    const start = (operation: string, inputs: object) =>
      s.send('POST', '/projects/1/runs', { operation, inputs, settings: {} });
    await start('check', { cloud: cloud.id, marks: [marks.id] });
    await start('surface', { cloud: cloud.id });
    const made = (kind: string) => s.until(async () => (await datasets()).find((d) => d.kind === kind));
    expect((await made('residuals')).outOfDate).toBe(false);
    await made('surface');
    await s.send('PATCH', '/projects/1', { toleranceM: 0.005 });
    expect((await made('residuals')).outOfDateBecause).toBe('the tolerance has changed since, from 30.0 mm to 5.0 mm');
    expect((await made('surface')).outOfDate).toBe(false);
    await s.send('PATCH', '/projects/1', { toleranceM: 0.03, surfaceToleranceM: 0.05 });
    expect((await made('residuals')).outOfDate).toBe(false);
    expect((await made('surface')).outOfDateBecause).toMatch(/from 10\.0 mm to 50\.0 mm/);
  });
});
