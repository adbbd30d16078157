import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import {
  DEMO_NAME,
  SECOND_DEMO_NAME,
  type CloudIndex,
  type DatasetDto,
  type ListedProject,
  type NoticeDto,
  type ProjectDto,
} from '@longheron/contract/api';
import { isPoints } from '@longheron/contract/kinds/export';
import { DEG, EGM96 } from '@longheron/core/frames';
import { parseSystem } from '@longheron/formats/crs';
import { localUndulationM } from '@longheron/site/geoid';
import { Run } from '../database/models';
import { codePoints, reportFonts } from '@longheron/operations/shared/pages';
import { demoServer, type DemoServer } from './demoServer';
import { positionTests } from './chainPosition';
import { contentOf } from './server';

let s: DemoServer;
beforeAll(async () => {
  s = await demoServer();
}, 900_000);
afterAll(() => s.stop());

describe('the demo chain', () => {
  it('ends in a report whose trail reaches raw files', async () => {
    const all = await s.datasets();
    expect(all.filter((d) => d.outOfDate)).toEqual([]);
    const check = all.find((d) => d.kind === 'residuals')!;
    const { figures } = contentOf(check, 'residuals');
    expect(figures.count).toBeGreaterThanOrEqual(3);
    expect(figures.rmse_m).toBeLessThan(0.03);
    expect(check.revision.inputs.map((i) => i.role).sort()).toEqual(['cloud', 'marks', 'reference']);
  });

  it('is listed with how far each stage is, its day and a small plan of its path', async () => {
    const [listed] = await s.get<ListedProject[]>('/projects');
    const states = Object.fromEntries(listed.holds.stages.map((x) => [x.stage, x.state]));
    // the exchanged and the far mark wait for an answer
    expect(states).toMatchObject({ gather: 'needs attention', position: 'done', place: 'done', deliver: 'done' });
    const [path] = listed.holds.plan;
    expect(path.length).toBeGreaterThan(50);
    // the drive of the small demo runs along the Lines road
    for (const [e, n] of path) expect([e > 466_900, e < 467_300, n > 6_214_900, n < 6_215_800]).not.toContain(false);
    // two days hold recordings; the receivers of the day before began first
    expect(new Date(1000 * (listed.holds.startGps! + 315_964_800)).toISOString().slice(0, 8)).toBe('2026-06-');
  });

  it('is not made a second time beside itself', async () => {
    const again = await s.send('POST', '/demo');
    expect([again.status, again.body.code]).toEqual([409, 'demo-there']);
  });

  it('says its notices in the unit of the project', async () => {
    const project = await s.get<ProjectDto>('/projects/1');
    const feet = async () => (await s.get<NoticeDto[]>('/projects/1/notices')).find((n) => n.code === 'mark-feet')!;
    const before = await feet();
    const said = /([\d.]+) m\b/.exec(before.text)!;
    const { horizontal, vertical, time, epoch } = project.reference!;
    const reference = { horizontal, vertical, time, epoch };
    await s.send('PUT', '/projects/1/reference', { ...reference, unit: 'foot' });
    const after = await feet();
    expect(Number(/([\d.]+) ft\b/.exec(after.text)![1])).toBeCloseTo(Number(said[1]) / 0.3048, 2);
    await s.send('PUT', '/projects/1/reference', { ...reference, unit: 'metre' });
    expect(await feet()).toEqual(before);
  });

  positionTests(() => s);

  it('catches the planted marks at intake and repairs each by one action, which undo takes back', async () => {
    const notices = await s.get<NoticeDto[]>('/projects/1/notices');
    const exchanged = notices.find((n) => n.code === 'mark-exchanged')!;
    expect(notices.some((n) => n.code === 'mark-feet')).toBe(true);
    expect(exchanged.fix).toMatch(/Exchange/);
    const before = (await s.byKind('marks')).find((d) => d.id === exchanged.datasetId)!;
    expect((await s.send('POST', `/projects/1/notices/${exchanged.id}/fix`, {})).status).toBe(204);
    const after = (await s.byKind('marks')).find((d) => d.id === exchanged.datasetId)!;
    const mark = (d: DatasetDto) => contentOf(d, 'marks').marks.find((m) => `mark ${m.name}` === exchanged.place)!;
    expect([mark(after).eastingM, mark(after).northingM]).toEqual([mark(before).northingM, mark(before).eastingM]);
    expect((await s.get<NoticeDto[]>('/projects/1/notices')).some((n) => n.code === 'mark-exchanged')).toBe(false);
    expect((await s.send('POST', `/projects/1/datasets/${after.id}/undo`)).status).toBe(200);
    const undone = (await s.byKind('marks')).find((d) => d.id === exchanged.datasetId)!;
    expect(undone.revision.contentHash).toBe(before.revision.contentHash);
    expect(undone.canRedo).toBe(true);
  });

  it('marks everything after the mounting out of date, and brings it up to date in order', async () => {
    const [mounting] = await s.byKind('mounting');
    const content = structuredClone(mounting.revision.content.mounting);
    content.sensors.head1.lever_arm_m[2] += 0.05;
    expect((await s.send('PUT', `/projects/1/datasets/${mounting.id}/mounting`, { mounting: content })).status).toBe(
      204,
    );
    const stale = (await s.datasets()).filter((d) => d.outOfDate);
    expect(stale.map((d) => d.kind).sort()).toEqual([
      'agreement',
      'coverage',
      'plan-check',
      'point-cloud',
      'point-cloud',
      'report',
      'residuals',
      'surface',
    ]);
    // undoing the edit brings everything up to date again without computing
    await s.send('POST', `/projects/1/datasets/${mounting.id}/undo`);
    expect((await s.datasets()).filter((d) => d.outOfDate)).toEqual([]);
    await s.send('POST', `/projects/1/datasets/${mounting.id}/redo`);
    const report = (await s.byKind('report'))[0].revision.number;
    await s.send('POST', '/projects/1/bring-up-to-date', {});
    await s.until(async () => !(await s.datasets()).some((d) => d.outOfDate), 60);
    await s.idle();
    expect((await s.byKind('report'))[0].revision.number).toBe(report + 1);
    // the cloud is 5 cm lower on one head: earlier results stay until discarded
    expect((await s.byKind('residuals'))[0].revisions).toBe(2);
  }, 900_000);

  it('takes the reference line into the trail: another system makes results out of date, another unit only the report', async () => {
    const line = { horizontal: 25832, vertical: 5773, unit: 'foot', time: 'utc', epoch: 2026.45 };
    expect((await s.send('PUT', '/projects/1/reference', line)).status).toBe(200);
    expect((await s.datasets()).filter((d) => d.outOfDate).map((d) => d.kind)).toEqual(['report']);
    expect((await s.send('PUT', '/projects/1/reference', { ...line, vertical: 0 })).status).toBe(200);
    // clouds, residuals, coverage and surface, and what else is written in the system: occupied marks, positions, the report
    expect((await s.datasets()).filter((d) => d.outOfDate).length).toBe(10);
    expect((await s.send('PUT', '/projects/1/reference', { ...line, unit: 'metre', time: 'gps' })).status).toBe(200);
    await s.idle();
    expect((await s.datasets()).filter((d) => d.outOfDate)).toEqual([]);
  });

  it('places, checks and reports above a geoid grid of the project, and back', async () => {
    const [grid] = await s.byKind('geoid');
    const line = { horizontal: 25832, vertical: 0, unit: 'metre', time: 'gps', epoch: 2026.45 };
    const meanOf = async () => contentOf((await s.byKind('residuals'))[0], 'residuals').figures.mean_m!;
    const before = await meanOf();
    const marksBefore = contentOf((await s.byKind('residuals'))[0], 'residuals').figures.marks;
    const heightBefore = new Map(marksBefore.map((m) => [m.name, m.height_m]));
    const others = (await s.byKind('marks'))[0];
    expect(await s.send('PUT', '/projects/1/reference', { ...line, geoid: others.id })).toMatchObject({
      status: 400,
      body: { code: 'grid-missing' },
    });
    const set = await s.send('PUT', '/projects/1/reference', { ...line, geoid: grid.id });
    expect(set.body.reference).toMatchObject({
      vertical: 0,
      verticalName: 'height above the geoid site_geoid.gtx',
      statement: expect.stringContaining('site_geoid.gtx, bilinear, steps of 1.80′'),
      geoid: { dataset: grid.id, sha12: contentOf(grid, 'geoid').object.slice(0, 12) },
    });
    await s.send('POST', '/projects/1/bring-up-to-date', {});
    await s.until(async () => !(await s.datasets()).some((d) => d.outOfDate), 60);
    await s.idle();
    const point = { latitude: '56 05 00 N', longitude: '8 28 00 E' };
    const n = localUndulationM(56 + 5 / 60, 8 + 28 / 60);
    const told = await s.send('POST', `/projects/1/datasets/${grid.id}/known-point`, {
      ...point,
      hEllM: n + 3,
      heightM: 3,
    });
    expect(told).toMatchObject({ status: 200, body: { says: 'agrees', offM: expect.closeTo(0, 3) } });
    const turned = { ...point, hEllM: 3, heightM: n + 3 };
    expect((await s.send('POST', `/projects/1/datasets/${grid.id}/known-point`, turned)).body.says).toBe('turned');
    expect((await s.send('POST', `/projects/1/datasets/${others.id}/known-point`, turned)).status).toBe(409);
    // the marks came along: each is lower by how much higher that geoid is at it, and the check says the same as before
    const used = contentOf((await s.byKind('residuals'))[0], 'residuals').figures.marks.filter((m) => m.used);
    const system = parseSystem('EPSG:25832');
    const geo = new Float64Array(3);
    for (const m of used) {
      system.unproject(m.easting_m, m.northing_m, 0, geo);
      const lower = localUndulationM(geo[0] / DEG, geo[1] / DEG) - EGM96.undulation(geo[0], geo[1]);
      expect(lower).toBeGreaterThan(0.02);
      expect(m.height_m - heightBefore.get(m.name)!).toBeCloseTo(-lower, 3);
    }
    expect((await meanOf()) - before).toBeCloseTo(0, 3);
    // files say which geoid, by its content
    const [cloud] = await s.byKind('point-cloud', 'place');
    const las = Buffer.from(await (await fetch(`${s.base}/api/objects/${cloud.revision.content.las}`)).arrayBuffer());
    expect(las.toString('latin1')).toContain(`geoid site_geoid.gtx@${contentOf(grid, 'geoid').object.slice(0, 12)}`);
    await s.send('PUT', '/projects/1/reference', { ...line, vertical: 5773 });
    await s.send('POST', '/projects/1/bring-up-to-date', {});
    await s.until(async () => !(await s.datasets()).some((d) => d.outOfDate), 60);
    await s.idle();
    expect(await meanOf()).toBeCloseTo(before, 6);
  }, 900_000);

  it('leaves a mark out only with a reason, and that goes into residuals and report', async () => {
    const [list] = await s.byKind('marks');
    const [check] = await s.byKind('residuals');
    const reason = 'Painted over before the drive';
    const name = check.revision.content.figures.marks.find((m) => m.used)!.name;
    expect(
      (await s.send('PATCH', `/projects/1/datasets/${list.id}/marks`, { name, leftOutReason: reason })).status,
    ).toBe(204);
    await s.send('POST', '/projects/1/bring-up-to-date', {});
    await s.until(async () => !(await s.datasets()).some((d) => d.outOfDate));
    await s.idle();
    const after = (await s.byKind('residuals'))[0].revision.content.figures;
    expect(after.marks.find((m) => m.name === name)).toMatchObject({ left_out: reason, used: false });
    const [report] = await s.byKind('report');
    const pdf = join(s.folder, 'report.pdf');
    writeFileSync(
      pdf,
      Buffer.from(await (await fetch(`${s.base}/api/projects/1/datasets/${report.id}/export/pdf`)).arrayBuffer()),
    );
    const text = execFileSync('pdftotext', ['-layout', pdf, '-'], { encoding: 'utf8' });
    expect(text.replace(/\s+/g, ' ')).toContain('left out: Painted over before the');
    const edited = (await s.byKind('marks')).find((d) => d.id === list.id)!;
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
  }, 900_000);

  it('finds painted targets, takes a pick in their place and back, and compares what was taped', async () => {
    const plan = async () => (await s.byKind('plan-check'))[0];
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
    const [check] = await s.byKind('residuals');
    const cloud = check.revision.inputs.find((i) => i.role === 'cloud')!.datasetId;
    const before = check.revision.content.figures;
    await s.send('POST', '/projects/1/runs', {
      operation: 'correct',
      inputs: { cloud, check: check.id },
      settings: { by: 'check' },
    });
    const made = await s.until(async () => (await s.byKind('point-cloud')).find((d) => d.revision.content.corrected));
    const { valueM, marks } = made.revision.content.corrected!;
    const used = before.marks.filter(
      (m) => m.role === 'check' && m.cover === 'hard' && m.residual_m !== null && !m.flagged && !m.left_out,
    );
    expect(marks).toEqual(used.map((m) => m.name));
    expect(valueM).toBeCloseTo(used.reduce((sum, m) => sum + m.residual_m!, 0) / used.length, 12);
    const list = check.revision.inputs.find((i) => i.role === 'marks')!.datasetId;
    await s.send('POST', '/projects/1/runs', {
      operation: 'check',
      inputs: { cloud: made.id, marks: [list] },
      settings: {},
    });
    const second = await s.until(async () => (await s.byKind('residuals')).find((d) => d.id !== check.id));
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

  it('makes mounting, trajectory and cloud of an adjustment, whose control marks prove nothing', async () => {
    const run = async (operation: string, inputs: Record<string, number | number[]>, settings = {}) => {
      const before = new Set((await s.datasets()).map((d) => d.id));
      expect((await s.send('POST', '/projects/1/runs', { operation, inputs, settings })).status).toBe(202);
      return s.until(async () => (await s.datasets()).find((d) => !before.has(d.id)));
    };
    const [mounting] = await s.byKind('mounting');
    const [trajectory] = await s.byKind('trajectory', 'gather');
    const returns = (await s.byKind('laser-returns')).map((d) => d.id);
    const list = (await s.byKind('marks')).find((d) => d.name === 'marks_network.csv')!;
    const inputs = { trajectory: trajectory.id, mounting: mounting.id, returns, control: list.id };
    const adjustment = await run('strips', inputs);
    const { marks, figures } = contentOf(adjustment, 'adjustment');
    expect(figures.after_m).toBeLessThan(figures.before_m);
    expect(marks.length).toBeGreaterThan(0);
    const calibrated = await run('adjusted-mounting', { adjustment: adjustment.id });
    const corrected = await run('adjusted-trajectory', { adjustment: adjustment.id });
    const cloud = await run('place', { trajectory: corrected.id, mounting: calibrated.id, returns });
    const check = await run('check', { cloud: cloud.id, marks: [list.id] });
    const shown = contentOf(check, 'residuals').figures.marks;
    for (const m of shown.filter((x) => marks.includes(x.name))) expect(m.used_for).toContain('adjusted to it');
    expect(
      shown
        .filter((m) => m.used_for)
        .map((m) => m.name)
        .sort(),
    ).toEqual([...marks].sort());
    // another mounting makes all of it out of date, and the trail says why
    const trail = (await s.datasets()).find((d) => d.id === cloud.id)!;
    expect(trail.revision.inputs.map((i) => i.datasetId)).toEqual(
      expect.arrayContaining([calibrated.id, corrected.id]),
    );
    for (const d of [check, cloud, corrected, calibrated, adjustment])
      await s.send('DELETE', `/projects/1/datasets/${d.id}`);
  }, 900_000);

  it('gives a stored cloud by range, unchanged by its name, and one point with all its attributes', async () => {
    const [cloud] = await s.byKind('point-cloud', 'clean');
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
    const [cloud] = await s.byKind('point-cloud', 'clean');
    const counts = cloud.revision.content.countsByClass!;
    await s.send('POST', '/projects/1/runs', {
      operation: 'export-cloud',
      inputs: { cloud: cloud.id },
      settings: { classes: [2] },
    });
    const made = await s.until(async () => (await s.byKind('export'))[0]);
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
    const [cloud] = await s.byKind('point-cloud', 'clean');
    await s.send('POST', '/projects/1/runs', {
      operation: 'surface',
      inputs: { cloud: cloud.id },
      settings: { cellM: 0.25 },
    });
    const times: number[] = [];
    for (let i = 0; i < 20; i++) {
      const t = performance.now();
      await s.datasets();
      times.push(performance.now() - t);
    }
    // the figure itself is printed by the benchmark; here only that no request waits for the whole job
    expect(times.sort((a, b) => a - b)[10]).toBeLessThan(1000);
    await s.idle();
  });

  it('goes on when something cannot be brought up to date', async () => {
    const [check] = await s.byKind('residuals');
    const list = check.revision.inputs.find((i) => i.role === 'marks')!.datasetId;
    await Run.update({ settings: { nonsense: 1 } }, { where: { id: check.revision.runId! } });
    const { marks } = contentOf(
      (await s.datasets()).find((d) => d.id === list),
      'marks',
    );
    const said = await s.send('PATCH', `/projects/1/datasets/${list}/marks`, {
      name: marks[0].name,
      leftOutReason: 'Stands in a puddle',
    });
    expect(said.status).toBe(204);
    expect((await s.send('POST', '/projects/1/bring-up-to-date', {})).status).toBe(202);
    await new Promise((r) => setTimeout(r, 1500));
    await s.idle();
    expect((await s.byKind('residuals'))[0].outOfDate).toBe(true);
  });

  it('has a second project in national heights, and everything in it states them', async () => {
    const [, road] = await s.get<ListedProject[]>('/projects');
    expect(road.name).toBe(SECOND_DEMO_NAME);
    const grid = /^site_geoid\.gtx@[0-9a-f]{12}$/;
    expect(`${road.reference!.geoid!.name}@${road.reference!.geoid!.sha12}`).toMatch(grid);
    const all = await s.get<DatasetDto[]>(`/projects/${road.id}/datasets`);
    const text = `EPSG:25832+${road.reference!.geoid!.name}@${road.reference!.geoid!.sha12}`;
    const made = all.filter((d) => !['gather'].includes(d.stage));
    expect(made.map((d) => d.kind).sort()).toEqual(['point-cloud', 'point-cloud', 'report', 'residuals', 'surface']);
    for (const d of made)
      if (d.kind === 'point-cloud' || d.kind === 'surface') expect(contentOf(d, d.kind).crs).toBe(text);
    const marks = all.find((d) => d.kind === 'marks')!;
    expect(contentOf(marks, 'marks').crs).toBe(text);
    // the made-up geoid lies some 3 cm above EGM96: the check would miss by that, were one of the two left behind
    const { figures } = contentOf(
      made.find((d) => d.kind === 'residuals')!,
      'residuals',
    );
    expect(Math.abs(figures.mean_m!)).toBeLessThan(0.015);
    expect(made.some((d) => d.outOfDate)).toBe(false);
  });

  it('is deleted, stays away, and is made again when asked for', async () => {
    expect((await s.send('DELETE', '/projects/1')).status).toBe(204);
    const left = await s.get<ListedProject[]>('/projects');
    expect(left.map((p) => p.name)).toEqual([SECOND_DEMO_NAME]);
    const made = await s.send('POST', '/demo');
    expect([made.status, made.body.name]).toEqual([202, DEMO_NAME]);
    const reports = async () =>
      (await s.get<DatasetDto[]>(`/projects/${Number(made.body.id)}/datasets`)).filter((d) => d.kind === 'report');
    await s.until(async () => (await reports()).length === 1, 200);
  });
});
