import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { measurementsCsv } from '@longheron/formats/measurements';
import { readObservations } from '@longheron/formats/rinex';
import { parseSystem } from '@longheron/formats/crs';
import { siteDrive } from '@longheron/site/files';
import { BASE_PLACE, sessionFiles, vehicleSession, type VehicleSession } from '@longheron/site/gnss';
import { measuredOnSite, trueMarks } from '@longheron/site/marks';
import { stationFile } from '@longheron/site/stations';
import { SITE_ORIGIN_E, SITE_ORIGIN_N, SITE_SYSTEM } from '@longheron/site/terrain';
import { DRIVE_START_SOW, GPS_WEEK } from '@longheron/site/drive';
import { OnFiles } from '../test/onFiles';
import { adjustRecordings, type NetworkRequest } from './network';

const CRS = 'EPSG:25832+5773';
/** An ordinary sky; one in twenty is expected to fail the test of the variance factor. */
const SEED = 2;
let folder: string;
let session: VehicleSession;
let request: NetworkRequest;
const at = (name: string) => join(folder, name);

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'lh-network-'));
  const system = parseSystem(SITE_SYSTEM);
  const start = DRIVE_START_SOW;
  session = vehicleSession(siteDrive(), system, {
    seed: SEED,
    factor: 1,
    roverRateHz: 1,
    fromSow: start,
    toSow: start + 160,
    baseToSow: start + 900,
  });
  const texts = sessionFiles(session);
  await writeFile(at('base.rnx'), texts.base);
  await writeFile(at('nav.rnx'), texts.navigation);
  await writeFile(at('antennas.atx'), texts.antennas);
  const span = {
    startGps: GPS_WEEK * 604800 + start - 60,
    endGps: GPS_WEEK * 604800 + start + 900,
    seed: SEED,
    factor: 1,
  };
  for (const code of ['FJR1', 'HLM2']) await writeFile(at(`${code}.rnx`), stationFile({ ...span, code }, system));
  await writeFile(at('measured.csv'), measurementsCsv(measuredOnSite(SEED, system, BASE_PLACE)));
  const sdM: [number, number, number] = [0.002, 0.002, 0.004];
  request = {
    recordings: [{ paths: [at('base.rnx')] }, { paths: [at('FJR1.rnx')] }, { paths: [at('HLM2.rnx')] }],
    navPaths: [at('nav.rnx')],
    antennaPaths: [at('antennas.atx')],
    held: [
      { name: 'FJR1', sdM },
      { name: 'HLM2', sdM },
    ],
    crs: CRS,
  };
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const truth = { e: SITE_ORIGIN_E + BASE_PLACE.x, n: SITE_ORIGIN_N + BASE_PLACE.y, h: BASE_PLACE.heightM };

describe('a base from stations around it', () => {
  it('is found to centimetres, within the deviations that it states', async () => {
    const { marks, vectors, adjustment, loops, report } = await adjustRecordings(request);
    expect(vectors.map((v) => [v.from, v.to, v.mean.solution])).toEqual([
      ['FJR1', 'BRN1', 'fixed'],
      ['HLM2', 'BRN1', 'fixed'],
    ]);
    expect(marks.map((m) => m.name)).toEqual(['BRN1']);
    const [m] = marks;
    const off = [m.eastingM - truth.e, m.northingM - truth.n, m.heightM - truth.h];
    const sd = [m.sdEM!, m.sdNM!, m.sdHM!];
    off.forEach((v, k) => expect(Math.abs(v)).toBeLessThan(3.3 * sd[k]));
    expect(Math.hypot(off[0], off[1])).toBeLessThan(0.012);
    expect(Math.abs(off[2])).toBeLessThan(0.03);
    expect(Math.max(...sd)).toBeLessThan(0.03);
    expect(adjustment.freedom).toBe(3);
    expect(adjustment.points.every((p) => p.checked)).toBe(true);
    // HLM2 was silent for most of the session: that says nothing against the rest
    expect(vectors[1].mean.epochs).toBeLessThan(300);
    // the first half minute of its four is not yet certain
    expect(vectors[1].mean.fixedShare).toBeGreaterThan(0.8);
    expect(loops).toHaveLength(1);
    expect(report.notices.filter((n) => n.severity !== 'info')).toEqual([]);
  });

  it('with a levelled mark in it is better in height, and names what it does not know', async () => {
    const c4 = trueMarks().find((m) => m.name === 'C4')!;
    const marks = [
      {
        name: 'C4',
        role: 'control' as const,
        eastingM: SITE_ORIGIN_E + c4.x,
        northingM: SITE_ORIGIN_N + c4.y,
        heightM: c4.heightM,
        sdEM: 0.003,
        sdNM: 0.003,
        sdHM: 0.002,
        note: '',
      },
    ];
    const made = await adjustRecordings({ ...request, measurementsPath: at('measured.csv'), marks });
    const base = made.marks.find((m) => m.name === 'BRN1')!;
    expect(base.sdHM!).toBeLessThan(0.003);
    expect(Math.abs(base.heightM - truth.h)).toBeLessThan(0.006);
    // only what reaches the recorded points counts
    expect(made.adjustment.observations.filter((o) => o.observation.kind === 'height')).toHaveLength(1);
    const without = await adjustRecordings({ ...request, measurementsPath: at('measured.csv'), marks: [] });
    expect(without.report.notices.map((n) => n.code)).toContain('network-measured');
  });

  it('held by coordinates of another frame is said, and an unchecked point too', async () => {
    const held = (by: [number, number, number]) =>
      request.held.map((h) => (h.name === 'FJR1' ? { ...h, xyzM: station.map((v, k) => v + by[k]) as never } : h));
    const station = readObservations(await readFile(at('FJR1.rnx')), 'FJR1').observations.approximateM!;
    const wrong = await adjustRecordings({ ...request, held: held([-0.5, 0.6, 0.4]) });
    const codes = wrong.report.notices.map((n) => n.code);
    expect(codes).toEqual(expect.arrayContaining(['network-variance', 'network-held-moves', 'network-loop']));
    expect(wrong.adjustment.scale).toBeGreaterThan(5);
    await expect(adjustRecordings({ ...request, held: held([5000, 0, 0]) })).rejects.toThrow(/5000 m from where/);
    const single = await adjustRecordings({
      ...request,
      recordings: request.recordings.slice(0, 2),
      held: request.held.slice(0, 1),
    });
    expect(single.report.notices.map((n) => n.code)).toContain('network-unchecked');
    await expect(adjustRecordings({ ...request, held: [] })).rejects.toThrow(/No point of the network is held/);
    await expect(adjustRecordings({ ...request, held: [{ name: 'ABCD', sdM: [0.01, 0.01, 0.01] }] })).rejects.toThrow(
      /no recording of ABCD/,
    );
    await expect(adjustRecordings({ ...request, recordings: request.recordings.slice(0, 1) })).rejects.toThrow(
      /two recordings/,
    );
  });
});

describe('the operation', () => {
  it('has points and vectors for the screen, and marks of the project', async () => {
    const files = await OnFiles.create();
    const ran = await files.run(
      'network',
      {
        recordings: ['base', 'FJR1', 'HLM2'].map((name) => at(`${name}.rnx`)),
        navigation: [at('nav.rnx')],
        calibrations: [at('antennas.atx')],
        measured: [at('measured.csv')],
      },
      { held: ['FJR1', 'HLM2'].map((name) => ({ name, sdPlanM: 0.002, sdHeightM: 0.004 })) },
      { keeps: true, crs: CRS },
    );
    const network = ran.content.network!;
    expect(network.points.map((p) => p.name).sort()).toEqual(expect.arrayContaining(['BRN1', 'FJR1', 'HLM2']));
    const base = network.points.find((p) => p.name === 'BRN1')!;
    expect(Math.hypot(base.eastingM - truth.e, base.northingM - truth.n)).toBeLessThan(0.02);
    expect(network.observations.filter((o) => o.kind === 'vector')).toHaveLength(2);
    expect(network.freedom).toBeGreaterThan(0);
    expect(ran.made.lines!.filter((l) => / to .*: fixed, /.test(l))).toHaveLength(2);
    expect(await ran.text('marks')).toMatch(/^BRN1,/m);
    await expect(
      files.run(
        'network',
        { recordings: [at('base.rnx'), at('FJR1.rnx')], navigation: [at('nav.rnx')] },
        { held: [{ name: 'FJR1', mark: 'nobody', sdPlanM: 0.002, sdHeightM: 0.004 }] },
        { crs: CRS },
      ),
    ).rejects.toMatchObject({ code: 'input', place: 'FJR1' });
    await files.remove();
  });
});
