import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DEG, geodeticToEcef, GRS80 } from '@longheron/core/frames';
import { LIMIT_DEFAULTS, type LaserReturns } from '@longheron/core/laser';
import { parseSystem } from '@longheron/formats/crs';
import { writeLaserFile } from '@longheron/formats/laser';
import { ADJUSTED_GPS_OFFSET_S, LasFile, WITHHELD } from '@longheron/formats/las';
import { parseMounting } from '@longheron/core/frames';
import { OnFiles } from '../test/onFiles';
import { placeReturns, type PlaceRequest } from './place';

/** A drive due north at 10 m/s for 20 s, level, on the central meridian of the zone, 60 m above the ellipsoid. */
const [LAT, LON, H, SPEED] = [56, 9, 60, 10];
const [T0, SECONDS, RATE] = [100_000, 20, 100];
const METRES_PER_DEG = (() => {
  const a = geodeticToEcef(GRS80, LAT * DEG, LON * DEG, H);
  const b = geodeticToEcef(GRS80, (LAT + 1e-3) * DEG, LON * DEG, H);
  return Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]) / 1e-3;
})();
const latAt = (t: number) => LAT + (SPEED * (t - T0)) / METRES_PER_DEG;
const HEAD =
  'gps_week,gps_sow,lat_deg,lon_deg,h_ell_m,roll_deg,pitch_deg,heading_deg,vn_mps,ve_mps,vd_mps,sd_n_m,sd_e_m,sd_d_m,sd_roll_deg,sd_pitch_deg,sd_heading_deg,solution,satellites';

let folder: string;
const at = (name: string) => join(folder, name);
/** Level returns to the right, each at a range of its own; every tenth is one of two echoes. */
const N = 1500;
const returns: LaserReturns = {
  week: 2423,
  sow: Float64Array.from({ length: N }, (_, i) => T0 + 2 + i / 100),
  rangeM: Float32Array.from({ length: N }, (_, i) => 10 + (i % 50)),
  azimuthDeg: new Float32Array(N).fill(90),
  elevationDeg: new Float32Array(N),
  intensity: Uint16Array.from({ length: N }, (_, i) => 10 * (i % 100)),
  returnNumber: new Uint8Array(N).fill(1),
  returnCount: Uint8Array.from({ length: N }, (_, i) => (i % 10 ? 1 : 2)),
};

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'place-'));
  const rows = Array.from({ length: SECONDS * RATE + 1 }, (_, i) => {
    const t = T0 + i / RATE;
    return `2423,${t.toFixed(6)},${latAt(t).toFixed(10)},${LON},${H},0,0,0,${SPEED},0,0,0.01,0.01,0.02,0.01,0.01,0.02,fixed,12`;
  });
  await writeFile(at('t.csv'), `# crs: EPSG:4937\n# point: imu\n${HEAD}\n${rows.join('\n')}\n`);
  await writeLaserFile(at('r.h5'), { week: 2423, sensor: 'head', rangeSdM: 0.01, angleSdDeg: 0.01 } as never, returns);
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const MOUNTING = { gnss: { lever_arm_m: [0, 0, 0] }, sensors: { head: { lever_arm_m: [1, 0, -2] } } };

const place = async (out: string, more: Partial<PlaceRequest> = {}) => {
  const result = await placeReturns({
    trajectoryPath: at('t.csv'),
    returnsPaths: [at('r.h5')],
    outPath: at(out),
    mounting: parseMounting(MOUNTING),
    system: parseSystem('EPSG:25832'),
    ...more,
  });
  const file = await LasFile.openPath(at(out));
  const points = await file.readAll();
  const { header } = file;
  await file.close();
  const value = (k: 'x' | 'y' | 'z', i: number) => {
    const axis = 'xyz'.indexOf(k);
    return points[k][i] * header.scale[axis] + header.offset[axis];
  };
  return { ...result, points, value };
};

describe('returns placed from files', () => {
  it('lie where range and angle put them, with time, strip and echoes', async () => {
    const { report, strips, points, value } = await place('a.las');
    expect([report.points_in, report.points_out, report.points_outside_trajectory]).toEqual([N, N, 0]);
    expect(strips).toHaveLength(1);
    expect(strips[0].points).toBe(N);
    const geo = new Float64Array(3);
    const system = parseSystem('EPSG:25832');
    for (let i = 0; i < N; i += 37) {
      // a metre ahead and two up; on the central meridian right is east, and lengths are 0.9996 on the ellipsoid
      const range = returns.rangeM[i];
      const k = 0.9996 * (1 - (H + 2) / 6_390_000);
      expect(Math.abs(value('x', i) - 500_000 - k * range)).toBeLessThan(0.001);
      system.project((latAt(returns.sow[i]) + 1 / METRES_PER_DEG) * DEG, LON * DEG, H + 2, geo);
      expect(Math.abs(value('y', i) - geo[1])).toBeLessThan(0.001);
      // a level ray rises above the ellipsoid as the square of its length
      expect(Math.abs(value('z', i) - (H + 2) - range ** 2 / 2 / 6.39e6)).toBeLessThan(0.0006);
    }
    expect(points.gpsTime[7] + ADJUSTED_GPS_OFFSET_S).toBeCloseTo(2423 * 604_800 + returns.sow[7], 6);
    expect([points.pointSourceId[0], points.returnCount[0], points.returnCount[1]]).toEqual([1, 2, 1]);
    expect(points.flags.some((f) => f & WITHHELD)).toBe(false);
    expect(report.points_rejected).toBeUndefined();
  });

  it('outside limits are kept, withheld and counted', async () => {
    const limits = { ...LIMIT_DEFAULTS, maxRangeM: 49.5, minIntensity: 50 };
    const { report, points } = await place('b.las', { limits });
    const far = Array.from(returns.rangeM, (r) => r > 49.5);
    const dim = Array.from(returns.intensity, (v, i) => v < 50 && !far[i]);
    const count = (list: boolean[]) => list.filter(Boolean).length;
    expect(report).toMatchObject({
      points_out: N,
      rejected_by_range: count(far),
      rejected_by_intensity: count(dim),
      rejected_by_azimuth: 0,
      points_rejected: count(far) + count(dim),
    });
    expect(Array.from(points.flags, (f) => (f & WITHHELD) !== 0)).toEqual(far.map((f, i) => f || dim[i]));
    expect(report.notices.map((n) => n.code)).toContain('return-limits');
  });

  it('outside the trajectory are left out and counted; none at all is an error', async () => {
    const early = { ...returns, sow: returns.sow.map((t) => t - 10) };
    await writeLaserFile(at('e.h5'), { week: 2423, sensor: 'head', rangeSdM: 0.01, angleSdDeg: 0.01 } as never, early);
    const { report } = await place('c.las', { returnsPaths: [at('e.h5')] });
    expect(report.points_outside_trajectory).toBe(800);
    expect(report.points_out).toBe(N - 800);
    expect(report.notices.map((n) => n.code)).toContain('outside-trajectory');
    const never = { ...returns, sow: returns.sow.map((t) => t - 10_000) };
    await writeLaserFile(at('n.h5'), { week: 2423, sensor: 'head', rangeSdM: 0.01, angleSdDeg: 0.01 } as never, never);
    await expect(place('d.las', { returnsPaths: [at('n.h5')] })).rejects.toThrow(/No return lies within/);
  });

  it('with ranges that cannot be are refused by file and row', async () => {
    const bad = { ...returns, rangeM: returns.rangeM.map((r, i) => (i === 5 ? Number.NaN : r)) };
    await writeLaserFile(at('bad.h5'), { week: 2423, sensor: 'head', rangeSdM: 0.01, angleSdDeg: 0.01 } as never, bad);
    await expect(place('e.las', { returnsPaths: [at('bad.h5')] })).rejects.toThrow(
      expect.objectContaining({ file: 'bad.h5', place: '/laser/range, row 5' }),
    );
    await expect(
      place('f.las', { mounting: { gnss: { leverArmM: [0, 0, 0] }, sensors: {} } as never }),
    ).rejects.toThrow(/no sensor "head"/);
  });
});

describe('the operation', () => {
  it('has figures, strips and the density for the screen', async () => {
    const files = await OnFiles.create();
    const mounting = [await files.put('mount.json', JSON.stringify(MOUNTING))];
    const { content, made } = await files.run(
      'place',
      { trajectory: [at('t.csv')], returns: [at('r.h5')], mounting },
      { minLengthM: 50, minRangeM: 0, maxRangeM: 0, targetPerM2: 100 },
      { keeps: true, crs: 'EPSG:25832' },
    );
    expect(content.figures).toMatchObject({ points_in: N, points_out: N });
    expect(content.density!.targetPerM2).toBe(100);
    expect(made.report.notices.map((n) => n.code)).toContain('density');
    expect(made.lines![0]).toContain(`${N} of ${N} returns placed`);
    expect(made.lines!.filter((l) => l.startsWith('Strip '))).toHaveLength(1);
    await files.remove();
  });
});
