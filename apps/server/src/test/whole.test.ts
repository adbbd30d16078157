import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { factsOf, type DatasetDto, type NoticeDto, type RunDto } from '@longheron/contract/api';
import { isPoints } from '@longheron/contract/kinds/export';
import { lookedAt, type Look } from '@longheron/core/cloud';
import { memorySource } from '@longheron/formats/bytes';
import { crsCodesOf, LasFile } from '@longheron/formats/las';
import { LOCAL_MARKS, ring, writeFiles } from './wholeFiles';
import { contentOf, isStored, type TestServer, testServer } from './server';

let s: TestServer;
const root = mkdtempSync(join(tmpdir(), 'longheron-whole-'));
const datasets = () => s.get<DatasetDto[]>('/projects/1/datasets');
const named = async (name: string) => (await datasets()).find((d) => d.name === name);
const take = async (name: string) => {
  await s.send('POST', '/projects/1/take', { paths: [join(root, name)] });
  return s.until(async () => {
    const d = await named(name);
    return d && (d.kind !== 'point-cloud' || isStored(d)) ? d : undefined;
  });
};
async function run(operation: string, inputs: object, settings: object = {}): Promise<DatasetDto> {
  const known = new Set((await datasets()).map((d) => d.id));
  const { status, body } = await s.send('POST', '/projects/1/runs', { operation, inputs, settings });
  expect([status, body]).toEqual([202, expect.anything()]);
  return s.until(async () => {
    const failed = (await s.get<RunDto[]>('/projects/1/runs')).find((r) => r.operation === operation);
    if (failed?.status === 'failed') throw new Error(JSON.stringify(failed));
    return (await datasets()).find((d) => !known.has(d.id));
  });
}
async function points(sha: unknown) {
  const bytes = new Uint8Array(await (await fetch(`${s.base}/api/objects/${sha}`)).arrayBuffer());
  const file = await LasFile.open(memorySource(bytes, 'o'));
  return { bytes, header: file.header, all: await file.readAll() };
}
const codes = async (id: number) =>
  (await s.get<NoticeDto[]>('/projects/1/notices')).filter((n) => n.datasetId === id).map((n) => n.code);

beforeAll(async () => {
  writeFiles(root);
  s = await testServer('none', [root]);
  await s.send('POST', '/projects', { name: 'Whole clouds' });
  await s.send('PUT', '/projects/1/reference', { horizontal: 25832, vertical: 5773, unit: 'metre', time: 'gps' });
}, 900_000);
afterAll(async () => {
  await s.stop();
  rmSync(root, { recursive: true });
});

describe('clouds as a whole', () => {
  it('measures density and voids within an ordered area that has a hole of its own', async () => {
    const west = await take('west.xyz');
    const outlines = await take('area.geojson');
    expect(factsOf(outlines)!.details).toContainEqual(['Areas', 'ordered, other']);
    const made = await run(
      'coverage',
      { cloud: west.id, outlines: outlines.id },
      { area: 'ordered', targetPerM2: 4, leastVoidM2: 2 },
    );
    const c = contentOf(made, 'coverage');
    // 45 by 30 less 5 by 5; the hole of 6 by 4 and the 5 by 30 that no point reaches
    expect(c.figures).toMatchObject({ areaM2: 1325, coveredM2: 1325 - 24 - 150, median: 4, voidM2: 174, voidCount: 2 });
    expect(c.figures.spacing).toMatchObject({ medianM: expect.closeTo(0.5, 2) });
    expect(c.voids[0]).toMatchObject({ areaM2: 150, atEdge: true });
    expect(c.voids[1]).toMatchObject({ areaM2: 24, atEdge: false });
    expect(Math.abs(c.voids[1].eastingM - 467_013)).toBeLessThan(1.1);
    expect(await codes(made.id)).toEqual(expect.arrayContaining(['coverage-voids', 'coverage-part']));
    const csv = await (await fetch(`${s.base}/api/projects/1/datasets/${made.id}/export/voids`)).text();
    expect(csv).toContain('number,easting_m,northing_m,area_m2,width_m,at_edge');
    expect(csv.split('\n').filter((l) => /^\d+,/.test(l))).toHaveLength(2);
    // the other area lies within the ordered one: together they are no more than it
    const both = await run('coverage', { cloud: west.id, outlines: outlines.id }, { targetPerM2: 4 });
    expect(contentOf(both, 'coverage').figures.areaM2).toBe(1325);
    const own = await run('coverage', { cloud: west.id }, { targetPerM2: 4, leastVoidM2: 2 });
    expect(contentOf(own, 'coverage').figures).toMatchObject({ areaM2: 1200, voidM2: 24 });
  });

  it('checks tiles of a delivery against their index and each other', async () => {
    const [west, east] = [await take('west.xyz'), await take('east.xyz')];
    const index = await take('tiles.geojson');
    const made = await run('delivery', { clouds: [west.id, east.id], outlines: index.id });
    const { check } = contentOf(made, 'delivery');
    expect(check).toMatchObject({ tiles: 2, points: 9600 - 12 * 8, mostPoints: 4800 });
    expect(check.findings.map((f) => [f.fault, f.tiles[0], f.value])).toEqual([
      ['missing', 'north.xyz', 77],
      ['count', 'east.xyz', -200],
    ]);
    expect(await codes(made.id)).toEqual(['delivery']);
    const csv = await (await fetch(`${s.base}/api/projects/1/datasets/${made.id}/export/delivery`)).text();
    expect(csv).toContain('count,east.xyz,,east.xyz has 200 points fewer than the index says.,467040.25');
  });

  it('says of a wrong boundary what is wrong in it', async () => {
    await s.send('POST', '/projects/1/take', { paths: [join(root, 'bad.geojson')] });
    const failed = await s.until(async () =>
      (await s.get<RunDto[]>('/projects/1/runs')).find(
        (r) => r.title === 'Import bad.geojson' && r.status === 'failed',
      ),
    );
    expect(JSON.stringify(failed)).toContain('corner 2');
  });

  it('makes one cloud of two, with what was done to them', async () => {
    const [west, east] = [(await named('west.xyz'))!, await take('east.xyz')];
    const all = { regions: [], inverted: false, filter: { hiddenClasses: [], rejected: 'shown' } };
    const acted = await s.send('POST', `/projects/1/datasets/${east.id}/edit`, {
      selection: all,
      act: { kind: 'class', to: 6 },
      revision: east.revision.id,
    });
    expect(acted.status).toBeLessThan(300);
    const made = await run('merge', { clouds: [west.id, east.id] });
    const content = contentOf(made, 'point-cloud');
    const [n, m] = [4800 - 12 * 8, 4800];
    expect(content.countsByClass).toEqual({ 0: n, 6: m });
    expect(content.merged).toMatchObject([{ points: n }, { points: m }]);
    const { header, all: p } = await points(content.las);
    expect([header.pointCount, crsCodesOf(header)]).toEqual([n + m, { horizontal: 25832, vertical: 5773 }]);
    expect(Math.max(...p.x) * header.scale[0] + header.offset[0]).toBeCloseTo(467_079.75, 4);
  });

  it('writes a cloud in another system, and brings it back to where it was', async () => {
    const west = (await named('west.xyz'))!;
    const out = await run('export-cloud', { cloud: west.id }, { format: 'las', system: 'EPSG:25833+5773' });
    const written = contentOf(out, 'export');
    if (!isPoints(written)) throw new Error('no points');
    expect(written.crs).toBe('EPSG:25833+5773');
    const carried = await points(written.file);
    expect(crsCodesOf(carried.header)).toEqual({ horizontal: 25833, vertical: 5773 });
    writeFileSync(join(root, 'carried.las'), carried.bytes);
    const taken = await take('carried.las');
    const noticed = async () =>
      (await s.get<NoticeDto[]>('/projects/1/notices')).some(
        (n) => n.code === 'other-system' && n.datasetId === taken.id,
      );
    await s.until(noticed);
    const back = await run('reproject', { cloud: taken.id });
    // it was brought in: what its file names is no matter any more
    await s.until(async () => !(await noticed()));
    expect(back.name).toBe('carried.las in EPSG:25832+5773');
    expect(contentOf(back, 'point-cloud').reprojected).toEqual({
      from: 'EPSG:25833+5773',
      to: 'EPSG:25832+5773',
      stated: false,
    });
    const [a, b] = [await points(contentOf(west, 'point-cloud').las), await points(contentOf(back, 'point-cloud').las)];
    let worst = 0;
    for (const k of ['x', 'y', 'z'] as const)
      for (let i = 0; i < a.all.count; i++) {
        const axis = 'xyz'.indexOf(k);
        const value = (p: typeof a) => p.all[k][i] * p.header.scale[axis] + p.header.offset[axis];
        worst = Math.max(worst, Math.abs(value(a) - value(b)));
      }
    expect(worst).toBeLessThan(0.0003);
    const refused = await s.send('POST', '/projects/1/runs', {
      operation: 'export-cloud',
      inputs: { cloud: west.id },
      settings: { system: 'UTM 33' },
    });
    expect([refused.status, JSON.stringify(refused.body)]).toEqual([422, expect.stringContaining('written like')]);
  });

  it('carries what was rejected into what is made of it, where it can be taken back', async () => {
    const east = (await named('east.xyz'))!;
    const act = (d: DatasetDto, filter: object, what: object) =>
      s.send('POST', `/projects/1/datasets/${d.id}/edit`, {
        act: what,
        revision: d.revision.id,
        selection: { regions: [], inverted: false, filter: { hiddenClasses: [], rejected: 'shown', ...filter } },
      });
    expect((await act(east, { heightM: [3.045, 9] }, { kind: 'reject' })).status).toBe(200);
    // heights run through seven steps: the two highest of each seven
    const count = Array.from({ length: 4800 }, (_, i) => i % 7).filter((k) => k >= 5).length;
    const merged = await run('merge', { clouds: [(await named('west.xyz'))!.id, east.id] });
    expect(contentOf(merged, 'point-cloud').rejected).toBe(count);
    const classified = await run('classify', { cloud: merged.id }, { noise: false, things: false });
    expect(contentOf(classified, 'point-cloud').rejected).toBe(count);
    const flags = async (d: DatasetDto) => {
      const at = `${s.base}/api/projects/1/datasets/${d.id}/export/las`;
      const file = await LasFile.open(memorySource(new Uint8Array(await (await fetch(at)).arrayBuffer()), 'o'));
      return (await file.readAll()).flags.filter((v) => v & 4).length;
    };
    expect(await flags(classified)).toBe(count);
    const back = await act(classified, { rejected: 'only' }, { kind: 'restore' });
    expect([back.status, (back.body.counts as { count: number }).count]).toEqual([200, count]);
    expect(await flags(classified)).toBe(0);
    await s.send('POST', `/projects/1/datasets/${east.id}/undo`);
  });

  it('smooths surfaces into a cloud of its own, and moves nothing else', async () => {
    const west = (await named('west.xyz'))!;
    const made = await run('smooth', { cloud: west.id }, { radiusM: 1.6, thickM: 0.03, mostM: 0.05 });
    const f = contentOf(made, 'point-cloud').figures as { points: number; moved: number };
    expect(f.points).toBe(4704);
    expect(f.moved).toBeGreaterThan(4000);
    const [a, b] = [await points(contentOf(west, 'point-cloud').las), await points(contentOf(made, 'point-cloud').las)];
    const height = (p: typeof a, i: number) => p.all.z[i] * p.header.scale[2] + p.header.offset[2];
    const square = (p: typeof a) => {
      const z = Array.from({ length: p.all.count }, (_, i) => height(p, i));
      const mean = z.reduce((sum, v) => sum + v, 0) / z.length;
      return Math.sqrt(z.reduce((sum, v) => sum + (v - mean) ** 2, 0) / z.length);
    };
    // steps of 0 to 6 cm have 2 cm RMS; each point is now near the mean of its neighbours
    expect(square(a)).toBeCloseTo(0.02, 3);
    expect(square(b)).toBeLessThan(0.4 * square(a));
    expect(b.header.max[2]).toBeLessThan(a.header.max[2]);
    expect(await codes(made.id)).toEqual(['smoothed']);
  });

  it('compares classes with areas whose class is known', async () => {
    const east = (await named('east.xyz'))!;
    const all = { inverted: false, filter: { hiddenClasses: [], rejected: 'shown' } };
    const inPlan = (w: number, e: number) => ({
      mode: 'add',
      shape: { kind: 'plan', polygon: ring(w, -1, e, 31).slice(0, 4).flat() },
    });
    const act = async (regions: object[], to: number) => {
      const { revision } = (await named('east.xyz'))!;
      const body = { selection: { ...all, regions }, act: { kind: 'class', to }, revision: revision.id };
      expect((await s.send('POST', `/projects/1/datasets/${east.id}/edit`, body)).status).toBe(200);
    };
    // ground to 60 m, then a building; the areas say that the building begins at 58 m, and are silent from 70 m on
    await act([inPlan(39, 60)], 2);
    await act([inPlan(60, 81)], 6);
    const samples = await take('samples.geojson');
    const made = await run('class-check', { cloud: east.id, outlines: samples.id });
    const { figures } = contentOf(made, 'class-check');
    // 60 rows; four points between 58 and 60 m, twenty from there to 70 m, sixteen of ground from 50 to 58 m
    expect(figures).toMatchObject({
      classes: [2, 6],
      counts: [
        [960, 0],
        [240, 1200],
      ],
      matched: 2400,
      ambiguous: 0,
      typeI: 0,
      typeII: 240 / 1440,
      total: 0.1,
    });
    const both = await s.send('POST', '/projects/1/runs', {
      operation: 'class-check',
      inputs: { cloud: east.id },
      settings: {},
    });
    expect([both.status, JSON.stringify(both.body)]).toEqual([422, expect.stringContaining('one of them')]);
    for (let k = 0; k < 2; k++) await s.send('POST', `/projects/1/datasets/${east.id}/undo`);
  });

  it('places a cloud in a frame of its own by marks, which then cannot prove it', async () => {
    const west = (await named('west.xyz'))!;
    const local = await take('local.xyz');
    const marks = await take('marks.csv');
    const pairs = LOCAL_MARKS.map(([mark, ...p]) => ({ mark, x: p[0], y: p[1], z: p[2] }));
    // what is cut out of a cloud without a system has none either
    const selection = { regions: [], inverted: false, filter: { hiddenClasses: [], rejected: 'shown' } };
    const part = await run('extract', { cloud: local.id }, { selection, thinM: 5 });
    expect(contentOf(part, 'point-cloud').crs).toBe('');
    const made = await run('align', { cloud: local.id, marks: marks.id }, { pairs });
    expect(contentOf(made, 'point-cloud').crs).toBe('EPSG:25832+5773');
    expect(made.name).toBe('local.xyz placed');
    const aligned = contentOf(made, 'point-cloud').aligned!;
    expect(aligned.sdM).toBeLessThan(0.0005);
    expect(aligned.headingDeg).toBeCloseTo(-40, 2);
    const { factor } = await s.get<{ factor: number }>('/projects/1/plan-factor?at=467016.25,6215014,3.5075');
    expect(aligned.stretch).toEqual([expect.closeTo(factor, 8), 1]);
    const [a, b] = [await points(contentOf(west, 'point-cloud').las), await points(contentOf(made, 'point-cloud').las)];
    let worst = 0;
    for (const [axis, k] of (['x', 'y', 'z'] as const).entries())
      for (let i = 0; i < a.all.count; i++) {
        const value = (p: typeof a) => p.all[k][i] * p.header.scale[axis] + p.header.offset[axis];
        worst = Math.max(worst, Math.abs(value(a) - value(b)));
      }
    // the file of the frame of its own has millimetres, and so have the picks
    expect(worst).toBeLessThan(0.0025);
    const all = { regions: [], inverted: false, filter: { hiddenClasses: [], rejected: 'shown' } };
    await s.send('POST', `/projects/1/datasets/${made.id}/edit`, {
      selection: all,
      act: { kind: 'class', to: 2 },
      revision: made.revision.id,
    });
    const check = await run('check', { cloud: made.id, marks: marks.id });
    const { figures } = contentOf(check, 'residuals');
    expect(figures.marks.map((m) => [m.name, m.used])).toEqual(LOCAL_MARKS.map(([n]) => [n, false]));
    expect(figures.marks[0].reason).toContain('the cloud was placed by it');
    const few = await s.send('POST', '/projects/1/runs', {
      operation: 'align',
      inputs: { cloud: local.id, marks: marks.id },
      settings: { pairs: pairs.slice(0, 1) },
    });
    expect([few.status, JSON.stringify(few.body)]).toEqual([422, expect.stringContaining('three points')]);
    expect((await s.send('GET', '/projects/1/plan-factor?at=1,2')).status).toBe(400);
  });

  it('measures between points, keeps it, and writes it with units named', async () => {
    const west = (await named('west.xyz'))!;
    const index = (await (await fetch(`${s.base}/api/objects/${contentOf(west, 'point-cloud').index}`)).json()) as {
      objects: { position: string };
      scale: number;
      origin: number[];
    };
    const raw = await (await fetch(`${s.base}/api/objects/${index.objects.position}`)).arrayBuffer();
    const xyz = new Int32Array(raw);
    const place = (row: number) => [0, 1, 2].map((k) => xyz[3 * row + k] * index.scale + index.origin[k]);
    const [a, b] = [place(0), place(1000)];
    const ask = (body: object) => s.send('POST', `/projects/1/datasets/${west.id}/measure`, body);
    const got = await ask({ kind: 'distance', rows: [0, 1000] });
    const values = got.body.values as Record<string, number>;
    expect(values.slopeM).toBeCloseTo(Math.hypot(...a.map((v, k) => b[k] - v)), 4);
    // a text states no deviations
    expect([got.body.stated, got.body.cloud]).toEqual([false, 'west.xyz']);
    expect(JSON.stringify((await ask({ kind: 'angle', rows: [0, 1] })).body)).toContain('takes 3 points');
    expect((await ask({ kind: 'distance', rows: [0, 9_999_999] })).status).toBe(422);
    expect(JSON.stringify((await ask({ kind: 'above', rows: [0] })).body)).toContain('No ground');
    const plane = (await ask({ kind: 'plane', rows: [1000, 0], radiusM: 3 })).body.values as Record<string, number>;
    expect(Math.abs(plane.tiltDeg)).toBeLessThan(2);
    const keep = { name: 'span, west', kind: 'distance', rows: [0, 1000] };
    expect((await s.send('PUT', `/projects/1/datasets/${west.id}/measured`, keep)).status).toBe(204);
    expect((await s.send('PUT', `/projects/1/datasets/${west.id}/measured`, { ...keep, rows: [0] })).status).toBe(422);
    const kept = await s.get<Array<{ name: string; kind: string }>>('/projects/1/measured');
    expect(kept).toMatchObject([{ name: 'span, west', kind: 'distance' }]);
    const csv = await (await fetch(`${s.base}/api/projects/1/measured.csv`)).text();
    expect(csv).toContain('name,kind,cloud,slope_m,plan_m,height_m');
    expect(csv).toContain(`"span, west",distance,west.xyz,${values.slopeM.toFixed(4)}`);
    expect((await s.send('DELETE', `/projects/1/measured/${encodeURIComponent('span, west')}`)).status).toBe(204);
    expect(await s.get('/projects/1/measured')).toEqual([]);
  });

  it('selects by height above the ground, which it lays once a revision', async () => {
    const west = (await named('west.xyz'))!;
    const ask = () => s.send('POST', `/projects/1/datasets/${west.id}/ground`, {});
    expect(JSON.stringify((await ask()).body)).toContain('no ground points');
    const all = { regions: [], inverted: false, filter: { hiddenClasses: [], rejected: 'shown' } };
    const act = { selection: all, act: { kind: 'class', to: 2 }, revision: west.revision.id };
    await s.send('POST', `/projects/1/datasets/${west.id}/edit`, act);
    const { body: ground } = await ask();
    expect((await ask()).body).toEqual(ground);
    const select = async (rangeM: number[]) => {
      const filter = { ...all.filter, above: { ...ground, rangeM } };
      return (await s.send('POST', `/projects/1/datasets/${west.id}/select`, { selection: { ...all, filter } })).body;
    };
    // heights repeat every 7 points by centimetres: all lie within 6 cm of the ground, half of them above it
    expect((await select([-0.1, 0.1])).count).toBe(4800 - 96);
    expect((await select([1, 2])).count).toBe(0);
    const above = Number((await select([0.0001, 0.1])).count);
    expect(above).toBeGreaterThan(1500);
    expect(above).toBeLessThan(3200);
  });

  it('keeps where somebody has looked, and says where nobody has', async () => {
    const west = (await named('west.xyz'))!;
    const path = `/projects/1/datasets/${west.id}/looks`;
    const look = { x: 93_400, y: 1_243_000, how: 'close', seconds: 2 };
    const sent = await s.send('POST', path, {
      looks: [look, { ...look, x: 93_401, how: 'section' }, { ...look, x: 1 }],
    });
    expect(sent.status).toBe(204);
    await s.send('POST', path, { looks: [look] });
    const got = await s.get<{ cells: Array<{ points: number; changed: number }>; looks: Look[] }>(path);
    // 40 by 30 m in cells of 5 m; every point was set to ground before
    expect(got.cells).toHaveLength(48);
    expect(got.cells.reduce((n, c) => n + c.changed, 0)).toBe(4800 - 96);
    expect(got.looks.find((l) => l.x === 93_400)).toMatchObject({ how: 'close', seconds: 4 });
    expect(lookedAt(got.cells as never, got.looks)).toMatchObject({ closeM2: 25, sectionM2: 25, neverM2: 46 * 25 });
    expect((await s.send('POST', path, { looks: [{ ...look, x: 0.5 }] })).status).toBe(400);
  });

  it('compares classes with a reference of the same points, and keeps classes of its own', async () => {
    const made = await s.send('PUT', '/projects/1/classes', { code: 64, name: 'kerb', colour: '#3fa7a0' });
    expect(made.status).toBe(204);
    expect((await s.send('PUT', '/projects/1/classes', { code: 17, name: 'x', colour: '#3fa7a0' })).status).toBe(400);
    expect((await s.send('PUT', '/projects/1/classes', { code: 65, name: 'Kerb', colour: '#3fa7a0' })).status).toBe(
      409,
    );
    const [west, merged] = [(await named('west.xyz'))!, (await named('Merged cloud'))!];
    // in the reference a strip of 10 m is of the own class, the rest ground; in the merged cloud west is unclassified
    const polygon = ring(0, 0, 10, 30).flat();
    const filter = { hiddenClasses: [], rejected: 'shown' };
    const selection = { regions: [{ mode: 'add', shape: { kind: 'plan', polygon } }], inverted: false, filter };
    const acted = await s.send('POST', `/projects/1/datasets/${west.id}/edit`, {
      selection,
      act: { kind: 'class', to: 64 },
      revision: west.revision.id,
    });
    expect(acted.status).toBe(200);
    const runs = await s.get<RunDto[]>('/projects/1/runs');
    expect(runs.some((r) => r.title.startsWith('Set points of west.xyz to kerb: 1 200 points'))).toBe(true);
    const check = await run('class-check', { cloud: merged.id, against: west.id });
    const { figures, names } = contentOf(check, 'class-check');
    expect(figures.classes).toEqual([0, 2, 64]);
    expect(figures.counts).toEqual([
      [0, 0, 0],
      [4704 - 1200, 0, 0],
      [1200, 0, 0],
    ]);
    expect(figures).toMatchObject({ matched: 4704, without: 0, overall: 0, typeI: 1 });
    expect(names['64']).toBe('kerb');
    expect(check.revision.inputs.map((i) => i.role).sort()).toEqual(['against', 'cloud', 'reference']);
    const csv = await (await fetch(`${s.base}/api/projects/1/datasets/${check.id}/export/classes`)).text();
    expect(csv).toContain('64 kerb,1200,0,0,');
  });
});
