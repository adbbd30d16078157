import { readFile } from 'node:fs/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DEG, ecefToGeodetic, geodeticToEcef, GRS80 } from '@longheron/core/frames';
import { parseSystem } from '@longheron/formats/crs';
import { writeInertialFile } from '@longheron/formats/inertial';
import { mountingText } from '@longheron/formats/mounting';
import { readTrajectory } from '@longheron/formats/trajectory';
import { DRIVE_START_SOW, deliveredMounting, GPS_WEEK, trueTrajectory } from '@longheron/site/drive';
import { siteDrive } from '@longheron/site/files';
import { navigationText, sessionFiles, vehicleSession, type VehicleSession } from '@longheron/site/gnss';
import { INERTIAL_RATE_HZ, measureDrive } from '@longheron/site/inertial';
import { SITE_SYSTEM } from '@longheron/site/terrain';
import { loadComputation } from '../computation';
import { account } from '../test/account';
import { OnFiles, type Ran } from '../test/onFiles';

/** The first five minutes of the site's drive, both receivers and the inertial unit, as files. */
const CRS = 'EPSG:25832+5773';
const system = parseSystem(SITE_SYSTEM);
const START = DRIVE_START_SOW;
const END = START + 300;
let files: OnFiles;
let session: VehicleSession;
let gnss: { rover: string[]; base: string[]; navigation: string[]; calibrations: string[] };
let unit: { inertial: string[]; antenna: string[] };
let whole: Ran<'position'>;
/** Latitude, longitude, degrees, and ellipsoidal height of the base's marker. */
let marker: { baseLatDeg: number; baseLonDeg: number; baseHEllM: number };

beforeAll(async () => {
  files = await OnFiles.create();
  session = vehicleSession(siteDrive(), system, { seed: 3, factor: 1, roverRateHz: 2, fromSow: START, toSow: END });
  const texts = sessionFiles(session);
  gnss = {
    rover: [await files.put('rover.rnx', texts.rover)],
    base: [await files.put('base.rnx', texts.base)],
    navigation: [await files.put('nav.rnx', texts.navigation)],
    calibrations: [await files.put('antennas.atx', texts.antennas)],
  };
  await files.put('orbits.sp3', texts.orbits);
  await writeInertialFile(
    files.path('unit.imu.h5'),
    measureDrive(siteDrive(), system, { seed: 3, factor: 1, fromSow: START, toSow: END }),
  );
  unit = {
    inertial: [files.path('unit.imu.h5')],
    antenna: [await files.put('mount.json', mountingText(deliveredMounting()))],
  };
  const [lat, lon, h] = ecefToGeodetic(GRS80, ...(Array.from(session.baseMarkerM) as [number, number, number]));
  marker = { baseLatDeg: lat / DEG, baseLonDeg: lon / DEG, baseHEllM: h };
  whole = await files.run('position', { ...gnss, ...unit }, marker, { keeps: true, crs: CRS });
}, 900_000);
afterAll(() => files.remove());

const trajectoryOf = async (ran: Ran<'position'>) =>
  readTrajectory(await readFile(ran.path('trajectory')), 'trajectory.csv');
const codes = (ran: { notices: Array<{ code: string }> }) => ran.notices.map((n) => n.code);

describe('a trajectory from files', () => {
  it('of the inertial point lies on the truth, with attitude, at the rate of the unit', async () => {
    const t = await trajectoryOf(whole);
    const truth = trueTrajectory(siteDrive(), system, INERTIAL_RATE_HZ, START, END);
    const squares = [0, 0, 0];
    let rows = 0;
    for (let i = 0; i < t.sow.length; i += 10) {
      const j = Math.round((t.sow[i] - truth.sow[0]) * INERTIAL_RATE_HZ);
      const p = geodeticToEcef(GRS80, t.latRad[i], t.lonRad[i], t.hEllM[i]);
      const q = geodeticToEcef(GRS80, truth.latRad[j], truth.lonRad[j], truth.hEllM[j]);
      squares[0] += (p[0] - q[0]) ** 2 + (p[1] - q[1]) ** 2 + (p[2] - q[2]) ** 2;
      squares[1] += (t.rollRad![i] - truth.rollRad![j]) ** 2;
      squares[2] += Math.sin(t.headingRad![i] - truth.headingRad![j]) ** 2;
      rows++;
    }
    const [placeM, roll, heading] = squares.map((v) => Math.sqrt(v / rows));
    expect(placeM).toBeLessThan(0.03);
    expect(roll / DEG).toBeLessThan(0.02);
    expect(heading / DEG).toBeLessThan(0.1);
    expect(t.point).toBe('imu');
    expect(t.sow.length).toBeGreaterThan(0.98 * 300 * INERTIAL_RATE_HZ);
  });

  it('says of what and how it was computed, and what the data told of the unit', () => {
    const f = whole.content.figures!;
    expect(f.fixed_share).toBeGreaterThan(0.95);
    expect(f.settings).toMatchObject({ systems: 'GE', orbits: 'broadcast', phase_centres: true, frame: 'EPSG:4937' });
    expect(f.baseline_m).toBeGreaterThan(100);
    expect(f.baseline_m).toBeLessThan(600);
    expect(f.unit_noise).toMatchObject({ from: 'data' });
    expect(['intermediate', 'tactical']).toContain(f.unit_noise!.grade);
    expect(f.alignment!.by).toBe('motion');
    expect(whole.made.lines!.join(' ')).toMatch(/grade, as \d+ s of its data tell/);
    expect(whole.content.point).toBe('imu');
  });

  it('keeps its sky, its plots and what the filter said of itself', async () => {
    const read = async (sha: string) => JSON.parse(await readFile(files.path(sha), 'utf8')) as Record<string, never>;
    const sky = (await read(whole.content.sky!)) as unknown as { satellites: string[] };
    expect(sky.satellites.length).toBeGreaterThan(10);
    expect(sky.satellites.every((s) => /^[GE]\d\d$/.test(s))).toBe(true);
    const diagnostics = await read(whole.content.diagnostics!);
    expect(Object.keys(diagnostics).length).toBeGreaterThan(0);
    const preview = await read(whole.content.preview!);
    expect((preview as unknown as { statistics: unknown[] }).statistics.length).toBeGreaterThan(3);
  });

  it('has a table of its quality, and a report with its figures', async () => {
    const computation = await loadComputation('position');
    const csv = await computation.exports!.quality(whole.content as never, {
      name: 'Drive\nmorning',
      unit: 'metre',
      path: (sha: string) => files.path(sha),
    });
    expect(String(csv)).toContain('# trajectory: Drive morning');
    expect(String(csv)).toMatch(/fixed_share,(0\.9\d*|1)/);
    expect(String(csv)).toContain('unit_noise.grade,');
    const report = await files.run(
      'trajectory-report',
      {},
      {},
      {
        keeps: true,
        crs: CRS,
        account: account({ sources: { rover: ['rover.rnx'], base: ['base.rnx'] } }),
        beside: { trajectory: { name: 'Drive', path: whole.path('trajectory'), content: whole.content } },
      },
    );
    expect(report.content.pages).toBeGreaterThanOrEqual(2);
    expect(report.content.figures!.within_tolerance).toBeGreaterThan(0.9);
  });
});

describe('the base', () => {
  const short = { endSow: START + 60, frequencies: 'both', grade: 'tactical' };
  const run = (settings: object, paths = gnss as Record<string, string[]>, context: object = {}) =>
    files.run('position', paths, { ...short, ...settings }, context);

  it('by its header, its codes or coordinates is said to be so', async () => {
    expect(codes(await run({}))).toContain('base-header');
    const byCodes = await run({ baseMean: true });
    expect(codes(byCodes)).toContain('base-mean');
    expect(codes(await run(marker))).not.toContain('base-header');
    const xyz = await run({ baseXyzM: Array.from(session.baseMarkerM) });
    expect(xyz.content.figures!.settings!.base_xyz_m![0]).toBeCloseTo(session.baseMarkerM[0], 4);
  });

  it('whose height is levelled is warned of; as a height of the project it is carried over', async () => {
    const undulation = system.geoid.undulation(marker.baseLatDeg * DEG, marker.baseLonDeg * DEG);
    const levelled = { ...marker, baseHEllM: marker.baseHEllM - undulation };
    const warned = (await run(levelled)).notices.find((n) => n.code === 'base-off')!;
    expect(warned.remedy).toContain('levelled, not ellipsoidal');
    const carried = await run({ ...levelled, baseHeightKind: 'project' }, gnss, { crs: CRS });
    expect(codes(carried)).not.toContain('base-off');
  });

  it('from a mark of the project, or none of that name', async () => {
    const xyz = new Float64Array(3);
    system.project(marker.baseLatDeg * DEG, marker.baseLonDeg * DEG, marker.baseHEllM, xyz);
    const row = `BRN1,control,${xyz[0].toFixed(4)},${xyz[1].toFixed(4)},${xyz[2].toFixed(4)}\n`;
    const list = await files.put('marks.csv', `name,role,easting_m,northing_m,height_m\n${row}`);
    const paths = { ...gnss, baseMarks: [list] };
    const found = await run({ baseMark: 'BRN1' }, paths, { crs: CRS });
    expect(found.content.figures!.settings!.base_xyz_m![2]).toBeCloseTo(session.baseMarkerM[2], 3);
    await expect(run({ baseMark: 'BRN9' }, paths, { crs: CRS })).rejects.toThrow(/no mark BRN9/);
  });

  it('in an international frame is moved to ETRS89 or to the frame of the result, with its epoch', async () => {
    const moved = await run({ ...marker, baseFrame: 'ITRF2020', baseEpoch: 2026.46 });
    expect(moved.notices.find((n) => n.code === 'base-moved')!.text).toMatch(/moves by \d{3} mm/);
    // 2.5 cm a year since 1989
    expect(moved.content.figures!.settings!.base_shift_m).toBeGreaterThan(0.6);
    expect(moved.content.figures!.settings!.base_shift_m).toBeLessThan(1.2);
    await expect(run({ ...marker, baseFrame: 'ITRF2020' })).rejects.toMatchObject({ code: 'base-epoch' });
    await expect(
      run({ ...marker, baseFrame: 'ITRF2020', baseEpoch: 2026.46, frame: 'EPSG:4955' }),
    ).rejects.toMatchObject({ code: 'base-frame' });
    // an epoch that is twenty years off is half a metre, and refused where the plate is not known
    const old = { ...marker, baseFrame: 'ITRF2014', baseEpoch: 2006.46, frame: 'EPSG:7912' };
    await expect(run(old)).rejects.toMatchObject({ code: 'frame-motion' });
    const carried = await run({ ...old, basePlate: 'Eurasia' });
    const notice = carried.notices.find((n) => n.code === 'base-moved')!;
    expect(Number(/moves by (\d+) mm/.exec(notice.text)![1])).toBeGreaterThan(400);
    expect(notice.effect).toContain('with the plate Eurasia');
  });

  it('elsewhere, on the move, or of another time is refused with the remedy', async () => {
    await expect(run({ ...marker, baseLatDeg: -marker.baseLatDeg })).rejects.toMatchObject({ code: 'base-elsewhere' });
    await expect(files.run('position', { ...gnss, rover: gnss.base, base: gnss.rover }, marker)).rejects.toMatchObject({
      code: 'position-base-moves',
      remedy: expect.stringContaining('base.rnx as base'),
    });
    const text = (await readFile(gnss.base[0], 'utf8')).split('\n');
    const end = text.findIndex((l) => l.includes('END OF HEADER'));
    const old = text.map((l, k) => (k > end && l.startsWith('> ') ? l.replace(/^> 2026/, '> 2025') : l)).join('\n');
    const base = [await files.put('old.rnx', old)];
    await expect(run(marker, { ...gnss, base })).rejects.toMatchObject({ code: 'position-no-overlap' });
  });
});

describe('a trajectory of the antenna alone', () => {
  it('has the epochs of the span, forward as in reverse, and says when one is enough', async () => {
    const run = (direction: string) =>
      files.run('position', gnss, { ...marker, direction, startSow: START + 10, endSow: START + 70 });
    const forward = await run('forward');
    const trajectory = await trajectoryOf(forward);
    expect(trajectory.point).toBe('antenna');
    // the receiver's clock is a quarter of a millisecond off
    expect(trajectory.sow[0]).toBeCloseTo(START + 10, 2);
    expect(trajectory.sow.at(-1)).toBeCloseTo(START + 70, 2);
    expect(trajectory.sow).toHaveLength(121);
    expect(forward.content.figures!.separation_rms_m).toBeNull();
    expect((await run('reverse')).content.figures!.settings!.direction).toBe('reverse');
  });

  it('with precise orbits, one system or one band says so', async () => {
    const span = { ...marker, startSow: START, endSow: START + 40 };
    const paths = { ...gnss, navigation: [], orbits: [files.path('orbits.sp3')] };
    const precise = await files.run('position', { ...paths, navigation: gnss.navigation }, span);
    expect(precise.content.figures!.settings!.orbits).toBe('precise');
    const gps = await files.run('position', gnss, { ...span, systems: 'G', leftOut: ['G05'] });
    expect(gps.content.figures!.settings).toMatchObject({ systems: 'G', left_out: ['G05'] });
    const single = await files.run('position', gnss, { ...span, frequencies: 'first' });
    expect(single.content.figures!.settings!.frequencies).toBe('first');
  });

  it('outside of all epochs, or without valid orbits, is refused with the span and the file', async () => {
    const gps = GPS_WEEK * 604800 + END + 4000;
    await expect(files.run('position', gnss, { ...marker, startGps: gps })).rejects.toMatchObject({
      code: 'position-span',
    });
    const navigation = [await files.put('old-nav.rnx', navigationText(session.sky, GPS_WEEK - 2))];
    await expect(files.run('position', { ...gnss, navigation }, marker)).rejects.toMatchObject({
      code: 'position-navigation',
      file: 'old-nav.rnx',
    });
  });
});
