import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import {
  factsOf,
  isOf,
  type CloudIndex,
  type ComparisonDto,
  type DatasetDto,
  type DatasetOf,
  type NoticeDto,
  type RunDto,
  type StationDto,
} from '@longheron/contract/api';
import { type DatasetKind } from '@longheron/contract/kinds';
import { isPoints } from '@longheron/contract/kinds/export';
import { localUndulationM } from '@longheron/site/geoid';
import { Run } from '../database/models';
import { codePoints, reportFonts } from '@longheron/operations/shared/pages';
import { contentOf, type TestServer, testServer } from './server';

let s: TestServer;
const datasets = () => s.get<DatasetDto[]>('/projects/1/datasets');
const byKind = async <K extends DatasetKind>(kind: K, stage?: string): Promise<Array<DatasetOf<K>>> =>
  (await datasets()).flatMap((d) => (isOf(d, kind) && (!stage || d.stage === stage) ? [d] : []));
const idle = () =>
  s.until(
    async () => !(await s.get<RunDto[]>('/projects/1/runs')).some((r) => ['queued', 'running'].includes(r.status)),
  );

beforeAll(async () => {
  s = await testServer('small');
  // the earlier cloud is the last thing that is taken in and prepared
  await s.until(
    async () => (await byKind('point-cloud', 'gather').catch(() => [])).some((d) => d.revision.content.index),
    280,
  );
  await idle();
}, 300_000);
afterAll(() => s.stop());

describe('the demo chain', () => {
  it('ends in a report whose trail reaches raw files', async () => {
    const all = await datasets();
    expect(all.filter((d) => d.outOfDate)).toEqual([]);
    const check = all.find((d) => d.kind === 'residuals')!;
    const { figures } = contentOf(check, 'residuals');
    expect(figures.count).toBeGreaterThanOrEqual(3);
    expect(figures.rmse_m).toBeLessThan(0.03);
    expect(check.revision.inputs.map((i) => i.role).sort()).toEqual(['cloud', 'marks', 'reference']);
  });

  it('makes the cloud from its own trajectory, and refuses a base that is elsewhere', async () => {
    const [own] = await byKind('trajectory', 'position');
    const figures = own.revision.content.figures!;
    expect(figures.fixed_share).toBeGreaterThan(0.97);
    expect(figures.satellites_mean).toBeGreaterThan(15);
    expect(figures.sd_heading_deg).toBeLessThan(0.02);
    expect(figures.positions_refused_share).toBeLessThan(0.01);
    const [given] = await byKind('trajectory', 'gather');
    const extent = (d: DatasetDto) => factsOf(d)!.extent!;
    // half a metre of the given one at most: both are of the inertial unit, the computed one begins a little later
    for (const k of [0, 1]) expect(Math.abs(extent(own).min[k] - extent(given).min[k])).toBeLessThan(0.5 / 60_000);
    expect(own.revision.inputs.map((i) => i.role).sort()).toEqual([
      ...['antenna', 'base', 'calibrations', 'inertial', 'navigation', 'rover'],
    ]);
    const [cloud] = await byKind('point-cloud', 'place');
    expect(cloud.revision.inputs.find((i) => i.role === 'trajectory')!.datasetId).toBe(own.id);
    const series = (await (await fetch(`${s.base}/api/objects/${own.revision.content.diagnostics}`)).json()) as Array<{
      name: string;
      time: number[];
      min: Array<number | null>;
    }>;
    const innovation = series.find((d) => d.name === 'Innovation down')!;
    expect(innovation.time.length).toBe(innovation.min.length);
    expect(Math.max(...innovation.min.map((v) => Math.abs(v ?? 0)))).toBeLessThan(0.3);
    const antenna = own;
    const input = (role: string) => antenna.revision.inputs.find((i) => i.role === role)!.datasetId;
    const before = await datasets();
    const r = await s.send('POST', '/projects/1/runs', {
      operation: 'position',
      inputs: { rover: input('rover'), base: input('base'), navigation: [input('navigation')] },
      settings: { baseLatDeg: 56.0811, baseLonDeg: -8.4711, baseHEllM: 49 },
    });
    const run = await s.until(async () =>
      (await s.get<RunDto[]>('/projects/1/runs')).find((x) => x.id === r.body.id && x.status === 'failed'),
    );
    expect(run.error!.message).toMatch(/1051 km from where its codes put it/);
    expect(run.error!.remedy).toMatch(/signs/);
    // a trajectory on the base's own codes is made, and says that it is weak
    const weak = await s.send('POST', '/projects/1/runs', {
      operation: 'position',
      inputs: { rover: input('rover'), base: input('base'), navigation: [input('navigation')] },
      settings: { baseMean: true },
    });
    await s.until(async () =>
      (await s.get<RunDto[]>('/projects/1/runs')).find((x) => x.id === weak.body.id && x.status === 'done'),
    );
    const made = (await byKind('trajectory', 'position')).find((d) => !before.some((b) => b.id === d.id))!;
    expect(made.name).toBe('Antenna trajectory, VEHICLE');
    const said = (await s.get<NoticeDto[]>('/projects/1/notices')).filter((n) => n.datasetId === made.id);
    expect(said.some((n) => n.code === 'base-mean')).toBe(true);
    expect((await s.send('DELETE', `/projects/1/datasets/${made.id}`)).status).toBe(204);
    // a levelled height of the base, said to be one, is carried to the ellipsoid; not said, it is told by the undulation
    const run0 = (await s.get<RunDto[]>('/projects/1/runs')).find((x) => x.outputs.includes(own.id))!;
    const typed = run0.settings as { baseLatDeg: number; baseLonDeg: number; baseHEllM: number };
    const levelled = async (more: object) => {
      const asked = await s.send('POST', '/projects/1/runs', {
        operation: 'position',
        inputs: { rover: input('rover'), base: input('base'), navigation: [input('navigation')] },
        settings: { ...{ baseLatDeg: typed.baseLatDeg, baseLonDeg: typed.baseLonDeg, baseHEllM: 9.2 }, ...more },
      });
      const done = await s.until(async () =>
        (await s.get<RunDto[]>('/projects/1/runs')).find((x) => x.id === asked.body.id && x.status === 'done'),
      );
      const set = (await datasets()).find((d) => d.id === done.outputs[0])!;
      const told = (await s.get<NoticeDto[]>('/projects/1/notices')).filter((n) => n.datasetId === set.id);
      expect((await s.send('DELETE', `/projects/1/datasets/${set.id}`)).status).toBe(204);
      return { xyz: contentOf(set, 'trajectory').figures!.settings!.base_xyz_m!, told };
    };
    const right = await levelled({ baseHeightKind: 'project' });
    const wanted = own.revision.content.figures!.settings!.base_xyz_m!;
    right.xyz.forEach((v, k) => expect(v).toBeCloseTo(wanted[k], 3));
    const off = (await levelled({})).told.find((n) => n.code === 'base-off')!;
    expect(off.remedy).toMatch(/levelled/);
    const without = await s.send('POST', '/projects/1/runs', {
      operation: 'position',
      inputs: {
        ...{ rover: input('rover'), base: input('base'), navigation: [input('navigation')] },
        inertial: input('inertial'),
      },
      settings: {},
    });
    expect(without.status).toBe(422);
    expect(without.body.detail ?? without.body.title).toMatch(/mounting/);
    expect((await datasets()).length).toBe(before.length);
  });

  it('makes marks of the stops of a pole, near those surveyed, and says where one was not written down', async () => {
    const [own] = await byKind('marks', 'position');
    const stops = own.revision.content.stops!;
    expect(stops.map((o) => o.name)).toEqual(['K2', 'K10', 'K3', 'C3', 'K13', 'K5']);
    for (const o of stops) {
      expect(o.solution).toBe('fixed');
      expect(o.near!.name).toBe(o.name);
      // survey 5 mm, centring 4 mm, GNSS 3 and 6 mm: five deviations
      expect(Math.hypot(...o.near!.differenceM)).toBeLessThan(0.05);
    }
    const csv = await (await fetch(`${s.base}/api/projects/1/datasets/${own.id}/export/marks`)).text();
    expect(csv).toMatch(/^# crs: EPSG:25832\+5773/);
    const trajectory = own.revision.inputs.find((i) => i.role === 'trajectory')!.datasetId;
    // by themselves the stops are found too, the one that nobody wrote down among them
    const again = await s.send('POST', '/projects/1/runs', {
      operation: 'stops',
      inputs: { trajectory, known: [own.id] },
      settings: { antennaHeightM: 1.8 },
    });
    await s.until(async () =>
      (await s.get<RunDto[]>('/projects/1/runs')).find((x) => x.id === again.body.id && x.status === 'done'),
    );
    const found = (await byKind('marks', 'position')).find((d) => d.id !== own.id)!;
    expect(found.revision.content.stops!.length).toBeGreaterThanOrEqual(7);
    expect((await s.send('DELETE', `/projects/1/datasets/${found.id}`)).status).toBe(204);
  });

  it('gives photographs the positions of their events, and will not join an antenna with an inertial unit', async () => {
    const [own] = await byKind('positions', 'position');
    const { figures } = own.revision.content;
    expect(figures.events_stray).toBe(1);
    expect(figures.photos_paired).toBe(figures.photos! - own.revision.content.photosAlone.length);
    expect(figures.photos_paired).toBeGreaterThan(70);
    expect(figures.lever_arm_applied).toBe(true);
    const rows = (await (await fetch(`${s.base}/api/objects/${own.revision.content.table}`)).json()) as Array<{
      photo: string | null;
      offS: number | null;
      kept: boolean;
      stray: boolean;
    }>;
    expect(rows[0].stray && !rows[0].kept).toBe(true);
    // the lost photograph shifts nobody: names follow the events one by one
    const kept = rows.filter((r) => r.photo);
    expect(kept.every((r) => Math.abs(r.offS!) < 1)).toBe(true);
    expect(kept.every((r) => Number(r.photo!.slice(5, 9)) === rows.indexOf(r))).toBe(true);
    const all = await byKind('trajectory', 'position');
    const join = await s.send('POST', '/projects/1/runs', {
      operation: 'join',
      inputs: { parts: all.map((d) => d.id) },
      settings: {},
    });
    const run = await s.until(async () =>
      (await s.get<RunDto[]>('/projects/1/runs')).find((x) => x.id === join.body.id && x.status === 'failed'),
    );
    expect(run.error!.message).toMatch(/cannot be joined: the point/);
  });

  it('hands a trajectory over with heights by a geoid grid, once a second, and says which', async () => {
    const [own] = await byKind('trajectory', 'position');
    const [geoid] = await byKind('geoid');
    const asked = await s.send('POST', '/projects/1/runs', {
      operation: 'handover',
      inputs: { trajectory: own.id, geoid: geoid.id },
      settings: { plan: 'grid', heights: 'geoid', rateHz: 1 },
    });
    await s.until(async () =>
      (await s.get<RunDto[]>('/projects/1/runs')).find((x) => x.id === asked.body.id && x.status === 'done'),
    );
    const [file] = await byKind('export', 'position');
    const at = `${s.base}/api/projects/1/datasets`;
    const lines = async (id: number) =>
      (await (await fetch(`${at}/${id}/export/trajectory`)).text()).trim().split('\n');
    const handed = await lines(file.id);
    expect(handed).toContain('# crs: EPSG:25832');
    expect(handed.find((l) => l.startsWith('# heights: site_geoid.gtx, bilinear'))).toBeDefined();
    const rows = handed.filter((l) => /^\d/.test(l)).map((l) => l.split(','));
    const source = (await lines(own.id)).filter((l) => /^\d/.test(l)).map((l) => l.split(','));
    expect(Math.abs(rows.length - (Number(source.at(-1)![1]) - Number(source[0][1])))).toBeLessThan(2);
    for (const [, sow, , , h] of [rows[0], rows[60]]) {
      const [, , lat, lon, ell] = source.find((r) => r[1] === sow)!.map(Number);
      // the site's closed form; between its values a grid is as straight as EGM96's own grid is
      expect(Math.abs(ell - Number(h) - localUndulationM(lat, lon))).toBeLessThan(0.002);
    }
    expect((await s.send('DELETE', `/projects/1/datasets/${file.id}`)).status).toBe(204);
  });

  it('writes a report on a trajectory, tied to the revision it is about', async () => {
    const [own] = await byKind('trajectory', 'position');
    const asked = await s.send('POST', '/projects/1/runs', {
      operation: 'trajectory-report',
      inputs: { trajectory: own.id },
      settings: {},
    });
    await s.until(async () =>
      (await s.get<RunDto[]>('/projects/1/runs')).find((x) => x.id === asked.body.id && x.status === 'done'),
    );
    const [report] = await byKind('report', 'position');
    expect(report.name).toBe(`${own.name}, report`);
    expect(report.revision.inputs.find((i) => i.role === 'trajectory')!.revisionId).toBe(own.revision.id);
    const pdf = Buffer.from(
      await (await fetch(`${s.base}/api/projects/1/datasets/${report.id}/export/pdf`)).arrayBuffer(),
    );
    expect(pdf.subarray(0, 5).toString()).toBe('%PDF-');
    expect(report.revision.content.pages).toBeGreaterThanOrEqual(3);
    // all stated deviations of the small demo's drive are well within 3 cm
    const { figures } = report.revision.content;
    expect(figures.within_tolerance).toBe(1);
    expect((await s.send('DELETE', `/projects/1/datasets/${report.id}`)).status).toBe(204);
  });

  it('compares the computed trajectory with the given one', async () => {
    const [own] = await byKind('trajectory', 'position');
    const [given] = await byKind('trajectory', 'gather');
    const answer = await s.send('POST', `/projects/1/datasets/${own.id}/compare/${given.id}`, {});
    const c = answer.body as unknown as ComparisonDto;
    expect(c.points).toEqual(['imu', 'imu']);
    expect(c.epochs).toBeGreaterThan(20_000);
    expect(c.statistics.map((x) => x.name)).toEqual(['north', 'east', 'down', 'roll', 'pitch', 'heading']);
    // both are good to a centimetre and a hundredth of a degree or two
    for (const x of c.statistics) expect(x.rms).toBeLessThan(x.unit === 'm' ? 0.03 : 0.04);
    for (const x of c.statistics) expect(x.max).toBeGreaterThanOrEqual(x.rms);
    expect(c.series[0].time.length).toBe(c.series[0].min.length);
    const download = async (what: string) =>
      (await fetch(`${s.base}/api/projects/1/datasets/${own.id}/export/${what}`)).text();
    expect((await download('trajectory')).startsWith('# crs: EPSG:4937\n')).toBe(true);
    const quality = await download('quality');
    expect(quality).toMatch(/\nSD down,m,0\.0\d+,/);
    expect(quality).toMatch(/\nfixed_share,(1|0\.9\d+)\n/);
    expect(quality).toMatch(/\nalignment\.by,motion\n/);
    const rover = (await byKind('gnss-observations'))[0];
    expect((await s.send('POST', `/projects/1/datasets/${own.id}/compare/${rover.id}`)).status).toBe(409);
  });

  it('asks the reference-station service, and takes what it hands out in', async () => {
    const rover = (await byKind('gnss-observations')).find((d) => d.name.startsWith('vehicle'))!;
    const at = `/projects/1/datasets/${rover.id}/stations`;
    const stations = await s.get<StationDto[]>(at);
    expect(stations.map((x) => x.code)).toEqual(['FJR1', 'HLM2', 'ODD3']);
    expect(stations[0].distanceM).toBeGreaterThan(8000);
    expect(stations.map((x) => x.cover)[2]).toBe(0);
    expect((await s.send('POST', at, { code: 'FJR1' })).body.name).toBe('fjr1_2026167.rnx');
    const taken = await s.until(async () =>
      (await byKind('gnss-observations')).find((d) => d.name === 'fjr1_2026167.rnx'),
    );
    const span = (d: DatasetDto) => {
      const f = factsOf(d)!;
      return { startGps: f.startGps!, endGps: f.endGps!, count: f.count };
    };
    expect(span(taken).startGps).toBeLessThanOrEqual(span(rover).startGps);
    expect(span(taken).endGps).toBeGreaterThanOrEqual(span(rover).endGps);
    // one that is silent then fails as a job, by name
    await s.send('POST', at, { code: 'ODD3' });
    const failed = await s.until(async () =>
      (await s.get<RunDto[]>('/projects/1/runs')).find((r) => r.title.includes('odd3') && r.status === 'failed'),
    );
    expect(failed.error!.message).toContain('ODD3');
    expect((await s.send('POST', at, { code: 'NONE9' })).status).toBe(404);
  });

  it('catches the planted marks at intake and repairs each by one action, which undo takes back', async () => {
    const notices = await s.get<NoticeDto[]>('/projects/1/notices');
    const exchanged = notices.find((n) => n.code === 'mark-exchanged')!;
    expect(notices.some((n) => n.code === 'mark-feet')).toBe(true);
    expect(exchanged.fix).toMatch(/Exchange/);
    const before = (await byKind('marks')).find((d) => d.id === exchanged.datasetId)!;
    expect((await s.send('POST', `/projects/1/notices/${exchanged.id}/fix`, {})).status).toBe(204);
    const after = (await byKind('marks')).find((d) => d.id === exchanged.datasetId)!;
    const mark = (d: DatasetDto) => contentOf(d, 'marks').marks.find((m) => `mark ${m.name}` === exchanged.place)!;
    expect([mark(after).eastingM, mark(after).northingM]).toEqual([mark(before).northingM, mark(before).eastingM]);
    expect((await s.get<NoticeDto[]>('/projects/1/notices')).some((n) => n.code === 'mark-exchanged')).toBe(false);
    expect((await s.send('POST', `/projects/1/datasets/${after.id}/undo`)).status).toBe(200);
    const undone = (await byKind('marks')).find((d) => d.id === exchanged.datasetId)!;
    expect(undone.revision.contentHash).toBe(before.revision.contentHash);
    expect(undone.canRedo).toBe(true);
  });

  it('marks everything after the mounting out of date, and brings it up to date in order', async () => {
    const [mounting] = await byKind('mounting');
    const content = structuredClone(mounting.revision.content.mounting);
    content.sensors.head1.lever_arm_m[2] += 0.05;
    expect((await s.send('PUT', `/projects/1/datasets/${mounting.id}/mounting`, { mounting: content })).status).toBe(
      204,
    );
    const stale = (await datasets()).filter((d) => d.outOfDate);
    expect(stale.map((d) => d.kind).sort()).toEqual([
      ...['agreement', 'coverage', 'plan-check', 'point-cloud', 'point-cloud', 'report', 'residuals', 'surface'],
    ]);
    // undoing the edit brings everything up to date again without computing
    await s.send('POST', `/projects/1/datasets/${mounting.id}/undo`);
    expect((await datasets()).filter((d) => d.outOfDate)).toEqual([]);
    await s.send('POST', `/projects/1/datasets/${mounting.id}/redo`);
    const report = (await byKind('report'))[0].revision.number;
    await s.send('POST', '/projects/1/bring-up-to-date', {});
    await s.until(async () => !(await datasets()).some((d) => d.outOfDate), 60);
    await idle();
    expect((await byKind('report'))[0].revision.number).toBe(report + 1);
    // the cloud is 5 cm lower on one head: earlier results stay until discarded
    expect((await byKind('residuals'))[0].revisions).toBe(2);
  }, 90_000);

  it('takes the reference line into the trail: another system makes results out of date, another unit only the report', async () => {
    const line = { horizontal: 25832, vertical: 5773, unit: 'foot', time: 'utc', epoch: 2026.45 };
    expect((await s.send('PUT', '/projects/1/reference', line)).status).toBe(200);
    expect((await datasets()).filter((d) => d.outOfDate).map((d) => d.kind)).toEqual(['report']);
    expect((await s.send('PUT', '/projects/1/reference', { ...line, vertical: 0 })).status).toBe(200);
    // clouds, residuals, coverage and surface, and what else is written in the system: occupied marks, positions, the report
    expect((await datasets()).filter((d) => d.outOfDate).length).toBe(10);
    expect((await s.send('PUT', '/projects/1/reference', { ...line, unit: 'metre', time: 'gps' })).status).toBe(200);
    await idle();
    expect((await datasets()).filter((d) => d.outOfDate)).toEqual([]);
  });

  it('leaves a mark out only with a reason, and that goes into residuals and report', async () => {
    const [list] = await byKind('marks');
    const [check] = await byKind('residuals');
    const reason = 'Painted over before the drive';
    const name = check.revision.content.figures.marks.find((m) => m.used)!.name;
    expect(
      (await s.send('PATCH', `/projects/1/datasets/${list.id}/marks`, { name, leftOutReason: reason })).status,
    ).toBe(204);
    await s.send('POST', '/projects/1/bring-up-to-date', {});
    await s.until(async () => !(await datasets()).some((d) => d.outOfDate));
    await idle();
    const after = (await byKind('residuals'))[0].revision.content.figures;
    expect(after.marks.find((m) => m.name === name)).toMatchObject({ left_out: reason, used: false });
    const [report] = await byKind('report');
    const pdf = join(s.folder, 'report.pdf');
    writeFileSync(
      pdf,
      Buffer.from(await (await fetch(`${s.base}/api/projects/1/datasets/${report.id}/export/pdf`)).arrayBuffer()),
    );
    const text = execFileSync('pdftotext', ['-layout', pdf, '-'], { encoding: 'utf8' });
    expect(text.replace(/\s+/g, ' ')).toContain('left out: Painted over before the');
    const edited = (await byKind('marks')).find((d) => d.id === list.id)!;
    expect(edited.revision.contentHash).not.toBe(list.revision.contentHash);
    expect(text).toContain(edited.revision.contentHash.slice(0, 12));
    expect(text).toContain('ETRS89 / UTM zone 32N (EPSG:25832)');
    // every character has a glyph in the report's fonts, and the page has ink where text is
    const glyphs = codePoints(reportFonts().sans);
    const missing = [...new Set(text)].filter((c) => c > ' ' && !glyphs.has(c.codePointAt(0)!));
    expect(missing).toEqual([]);
    execFileSync('pdftoppm', ['-r', '60', '-gray', '-f', '1', '-l', '1', pdf, join(s.folder, 'page')]);
    const page = execFileSync('sh', ['-c', `cat ${s.folder}/page*.pgm`], { maxBuffer: 1 << 26 });
    const dark = page.subarray(20).filter((v) => v < 120).length;
    expect(dark).toBeGreaterThan(1500);
  }, 90_000);

  it('finds painted targets, takes a pick in their place and back, and compares what was taped', async () => {
    const plan = async () => (await byKind('plan-check'))[0];
    const figures = async () => (await plan()).revision.content.figures;
    const first = await figures();
    const fitted = first.marks.filter((m) => m.how === 'fit' && m.used);
    expect(fitted.length).toBeGreaterThanOrEqual(1);
    expect(first.statistics.rmseR).toBeLessThan(0.03);
    for (const m of fitted) expect(Math.hypot(m.dE!, m.dN!)).toBeLessThan(0.06);
    const { name } = fitted[0];
    const { id } = await plan();
    expect((await s.send('PATCH', `/projects/1/datasets/${id}/picks`, { name, dE: 0, dN: 0 })).status).toBe(204);
    expect((await figures()).marks.find((m) => m.name === name)).toMatchObject({ how: 'pick', dE: 0, dN: 0 });
    expect((await s.get<NoticeDto[]>('/projects/1/notices')).map((n) => n.code)).toContain('pick-exact');
    expect((await s.send('PATCH', `/projects/1/datasets/${id}/picks`, { name, dE: 0.4, dN: 0.1 })).status).toBe(204);
    expect((await figures()).statistics.rmseR).toBeGreaterThan(first.statistics.rmseR!);
    expect((await s.send('PATCH', `/projects/1/datasets/${id}/picks`, { name: 'nobody' })).status).toBe(404);
    await s.send('PATCH', `/projects/1/datasets/${id}/picks`, { name });
    expect(await figures()).toEqual(first);
    const csv = await (await fetch(`${s.base}/api/projects/1/datasets/${id}/export/plan`)).text();
    expect(csv).toContain('east_m,north_m,up_m,sd_east_m');
    expect(csv.split('\n').find((l) => l.startsWith(`${name},check`))).toContain(',fit,');
    const taped = first.distances.filter((d) => d.agrees !== null);
    expect(taped.every((d) => d.agrees)).toBe(true);
  });

  it('takes a height bias out by marks, which then prove nothing', async () => {
    const [check] = await byKind('residuals');
    const cloud = check.revision.inputs.find((i) => i.role === 'cloud')!.datasetId;
    const before = check.revision.content.figures;
    await s.send('POST', '/projects/1/runs', {
      ...{ operation: 'correct', inputs: { cloud, check: check.id }, settings: { by: 'check' } },
    });
    const made = await s.until(async () => (await byKind('point-cloud')).find((d) => d.revision.content.corrected));
    const { valueM, marks } = made.revision.content.corrected!;
    const used = before.marks.filter(
      (m) => m.role === 'check' && m.cover === 'hard' && m.residual_m !== null && !m.flagged && !m.left_out,
    );
    expect(marks).toEqual(used.map((m) => m.name));
    expect(valueM).toBeCloseTo(used.reduce((sum, m) => sum + m.residual_m!, 0) / used.length, 12);
    const list = check.revision.inputs.find((i) => i.role === 'marks')!.datasetId;
    await s.send('POST', '/projects/1/runs', {
      ...{ operation: 'check', inputs: { cloud: made.id, marks: [list] }, settings: {} },
    });
    const second = await s.until(async () => (await byKind('residuals')).find((d) => d.id !== check.id));
    const after = second.revision.content.figures;
    for (const m of after.marks) {
      const was = before.marks.find((b) => b.name === m.name)!;
      if (was.residual_m !== null) expect(m.residual_m).toBeCloseTo(was.residual_m - valueM, 4);
    }
    for (const m of after.marks.filter((x) => marks.includes(x.name))) {
      expect(m.used).toBe(false);
      expect(m.used_for).toContain('height correction');
    }
    expect(after.marks.some((m) => m.used)).toBe(true);
    const codes = (await s.get<NoticeDto[]>('/projects/1/notices')).filter((n) => n.datasetId === second.id);
    expect(codes.map((n) => n.code)).toContain('not-independent');
    await s.send('DELETE', `/projects/1/datasets/${second.id}`);
    await s.send('DELETE', `/projects/1/datasets/${made.id}`);
  });

  it('gives a stored cloud by range, unchanged by its name, and one point with all its attributes', async () => {
    const [cloud] = await byKind('point-cloud', 'clean');
    const index = await s.get<CloudIndex>(`/objects/${cloud.revision.content.index}`);
    const r = await fetch(`${s.base}/api/objects/${index.objects.position}`, { headers: { Range: 'bytes=12-35' } });
    expect(r.status).toBe(206);
    expect(r.headers.get('etag')).toBe(`"${index.objects.position}"`);
    const part = await fetch(`${s.base}/api/objects/${index.objects.position}?part=12-36`);
    expect([part.status, part.headers.get('content-length')]).toEqual([200, '24']);
    expect((await fetch(`${s.base}/api/objects/${index.objects.position}?part=12-99999999999`)).status).toBe(416);
    expect(new Uint8Array(await part.arrayBuffer())).toEqual(new Uint8Array(await r.clone().arrayBuffer()));
    const [x, y, z] = new Int32Array(await r.arrayBuffer());
    const point = await s.get<Array<[string, string]>>(`/projects/1/datasets/${cloud.id}/points/1`);
    const [e, n] = point
      .find(([k]) => k === 'Easting, northing')![1]
      .split(' ')
      .map(Number);
    expect(Math.abs(x * index.scale + index.origin[0] - e)).toBeLessThan(0.0006);
    expect(Math.abs(y * index.scale + index.origin[1] - n)).toBeLessThan(0.0006);
    expect(Math.abs(z * index.scale + index.origin[2] - Number(point.find(([k]) => k === 'Height')![1]))).toBeLessThan(
      0.0006,
    );
    expect(point.map(([k]) => k)).toContain('sd_h');
  });

  it('writes chosen points and accounts for every one left out', async () => {
    const [cloud] = await byKind('point-cloud', 'clean');
    const counts = cloud.revision.content.countsByClass!;
    await s.send('POST', '/projects/1/runs', {
      operation: 'export-cloud',
      inputs: { cloud: cloud.id },
      settings: { classes: [2] },
    });
    const made = await s.until(async () => (await byKind('export'))[0]);
    const { content } = made.revision;
    if (!isPoints(content)) throw new Error('no points');
    const f = content.figures;
    expect(f.points_out).toBe(counts['2']);
    expect(f.points_in).toBe(f.points_out + f.left_out_class + f.left_out_rejected + f.left_out_strip);
    expect((await s.send('DELETE', `/projects/1/datasets/${made.id}`)).status).toBe(204);
    const refused = await s.send('DELETE', `/projects/1/datasets/${cloud.id}`);
    expect([refused.status, refused.body.code]).toEqual([409, 'in-use']);
  });

  it('answers lists while a job computes', async () => {
    const [cloud] = await byKind('point-cloud', 'clean');
    await s.send('POST', '/projects/1/runs', {
      operation: 'surface',
      inputs: { cloud: cloud.id },
      settings: { cellM: 0.25 },
    });
    const times: number[] = [];
    for (let i = 0; i < 20; i++) {
      const t = performance.now();
      await datasets();
      times.push(performance.now() - t);
    }
    // the figure itself is printed by the benchmark; here only that no request waits for the whole job
    expect(times.sort((a, b) => a - b)[10]).toBeLessThan(1000);
    await idle();
  });

  it('goes on when something cannot be brought up to date', async () => {
    const [check] = await byKind('residuals');
    const list = check.revision.inputs.find((i) => i.role === 'marks')!.datasetId;
    await Run.update({ settings: { nonsense: 1 } }, { where: { id: check.revision.runId! } });
    const { marks } = contentOf(
      (await datasets()).find((d) => d.id === list),
      'marks',
    );
    const said = await s.send('PATCH', `/projects/1/datasets/${list}/marks`, {
      name: marks[0].name,
      leftOutReason: 'Stands in a puddle',
    });
    expect(said.status).toBe(204);
    expect((await s.send('POST', '/projects/1/bring-up-to-date', {})).status).toBe(202);
    await new Promise((r) => setTimeout(r, 1500));
    await idle();
    expect((await byKind('residuals'))[0].outOfDate).toBe(true);
  });
});
