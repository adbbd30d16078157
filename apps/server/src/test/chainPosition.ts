import { beforeAll, expect, it } from 'vitest';
import {
  factsOf,
  type ComparisonDto,
  type DatasetDto,
  type NoticeDto,
  type RunDto,
  type StationDto,
} from '@longheron/contract/api';
import { localUndulationM } from '@longheron/site/geoid';
import { type DemoServer } from './demoServer';
import { contentOf } from './server';

/** What the stage Position does with the demo's files. */
export function positionTests(server: () => DemoServer): void {
  let s: DemoServer;
  beforeAll(() => {
    s = server();
  });

  it('makes the cloud from its own trajectory, and refuses a base that is elsewhere', async () => {
    const [own] = await s.byKind('trajectory', 'position');
    const figures = own.revision.content.figures!;
    expect(figures.fixed_share).toBeGreaterThan(0.97);
    expect(figures.satellites_mean).toBeGreaterThan(15);
    expect(figures.sd_heading_deg).toBeLessThan(0.02);
    expect(figures.positions_refused_share).toBeLessThan(0.01);
    const [given] = await s.byKind('trajectory', 'gather');
    const extent = (d: DatasetDto) => factsOf(d)!.extent!;
    // half a metre of the given one at most: both are of the inertial unit, the computed one begins a little later
    for (const k of [0, 1]) expect(Math.abs(extent(own).min[k] - extent(given).min[k])).toBeLessThan(0.5 / 60_000);
    expect(own.revision.inputs.map((i) => i.role).sort()).toEqual([
      'antenna',
      'base',
      'calibrations',
      'inertial',
      'navigation',
      'rover',
    ]);
    const [cloud] = await s.byKind('point-cloud', 'place');
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
    const before = await s.datasets();
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
    const made = (await s.byKind('trajectory', 'position')).find((d) => !before.some((b) => b.id === d.id))!;
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
        settings: { baseLatDeg: typed.baseLatDeg, baseLonDeg: typed.baseLonDeg, baseHEllM: 9.2, ...more },
      });
      const done = await s.until(async () =>
        (await s.get<RunDto[]>('/projects/1/runs')).find((x) => x.id === asked.body.id && x.status === 'done'),
      );
      const set = (await s.datasets()).find((d) => d.id === done.outputs[0])!;
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
        rover: input('rover'),
        base: input('base'),
        navigation: [input('navigation')],
        inertial: input('inertial'),
      },
      settings: {},
    });
    expect(without.status).toBe(422);
    expect(without.body.detail ?? without.body.title).toMatch(/mounting/);
    expect((await s.datasets()).length).toBe(before.length);
  });

  it('makes marks of the stops of a pole, near those surveyed, and says where one was not written down', async () => {
    const [own] = await s.byKind('marks', 'position');
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
    const found = (await s.byKind('marks', 'position')).find((d) => d.id !== own.id)!;
    expect(found.revision.content.stops!.length).toBeGreaterThanOrEqual(7);
    expect((await s.send('DELETE', `/projects/1/datasets/${found.id}`)).status).toBe(204);
  });

  it('gives photographs the positions of their events, and will not join an antenna with an inertial unit', async () => {
    const [own] = await s.byKind('positions', 'position');
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
    const all = await s.byKind('trajectory', 'position');
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
    const [own] = await s.byKind('trajectory', 'position');
    const [geoid] = await s.byKind('geoid');
    const asked = await s.send('POST', '/projects/1/runs', {
      operation: 'handover',
      inputs: { trajectory: own.id, geoid: geoid.id },
      settings: { plan: 'grid', heights: 'geoid', rateHz: 1 },
    });
    await s.until(async () =>
      (await s.get<RunDto[]>('/projects/1/runs')).find((x) => x.id === asked.body.id && x.status === 'done'),
    );
    const [file] = await s.byKind('export', 'position');
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
    const [own] = await s.byKind('trajectory', 'position');
    const asked = await s.send('POST', '/projects/1/runs', {
      operation: 'trajectory-report',
      inputs: { trajectory: own.id },
      settings: {},
    });
    await s.until(async () =>
      (await s.get<RunDto[]>('/projects/1/runs')).find((x) => x.id === asked.body.id && x.status === 'done'),
    );
    const [report] = await s.byKind('report', 'position');
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
    const [own] = await s.byKind('trajectory', 'position');
    const [given] = await s.byKind('trajectory', 'gather');
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
    const rover = (await s.byKind('gnss-observations'))[0];
    expect((await s.send('POST', `/projects/1/datasets/${own.id}/compare/${rover.id}`)).status).toBe(409);
  });

  it('asks the reference-station service, and takes what it hands out in', async () => {
    const rover = (await s.byKind('gnss-observations')).find((d) => d.name.startsWith('vehicle'))!;
    const at = `/projects/1/datasets/${rover.id}/stations`;
    const stations = await s.get<StationDto[]>(at);
    expect(stations.map((x) => x.code)).toEqual(['FJR1', 'HLM2', 'ODD3']);
    expect(stations[0].distanceM).toBeGreaterThan(8000);
    expect(stations.map((x) => x.cover)[2]).toBe(0);
    expect((await s.send('POST', at, { code: 'FJR1' })).body.name).toBe('fjr1_2026167.rnx');
    const taken = await s.until(async () =>
      (await s.byKind('gnss-observations')).find((d) => d.name === 'fjr1_2026167.rnx'),
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
}
