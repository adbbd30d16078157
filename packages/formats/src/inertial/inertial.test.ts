import { mkdtemp, readFile, rm, truncate, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readInertial, readInertialCsv, writeInertialFile } from '.';
import { writeHdf5 } from '../hdf5';
import { FORMATS, recogniseFile } from '../registry';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'longheron-inertial-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const bytes = (text: string) => new TextEncoder().encode(text);
const HEADER = 'gps_week,gps_sow,gx_radps,gy_radps,gz_radps,ax_mps2,ay_mps2,az_mps2';

describe('inertial data, text', () => {
  it('is read in any order of columns, over the end of a week', async () => {
    const d = await readInertialCsv(
      bytes(
        '# made by hand\nax_mps2,ay_mps2,az_mps2,gps_week,gps_sow,gx_radps,gy_radps,gz_radps\n' +
          '0.1,-0.2,-9.81,2423,604799.99,1e-3,-2e-3,3e-3\n0.2,0,-9.80,2424,0.00,0,0,0.5\n',
      ),
      'unit.csv',
    );
    expect(d.week).toBe(2423);
    expect(Array.from(d.sow)).toEqual([604799.99, 604800]);
    expect(d.rateHz).toBeCloseTo(100, 3);
    expect(Array.from(d.gyroRadps)).toEqual([0.001, -0.002, 0.003, 0, 0, 0.5]);
    expect(Array.from(d.accelMps2)).toEqual([0.1, -0.2, -9.81, 0.2, 0, -9.8]);
  });

  it('names the line that is wrong and what to do', async () => {
    const read = (rows: string) => readInertialCsv(bytes(`${HEADER}\n${rows}`), 'unit.csv');
    await expect(read('2423,1,0,0,0,0,0,-9.8\n2423,1.01,0,0,0,0,0')).rejects.toThrow(
      expect.objectContaining({ place: 'line 3', remedy: expect.stringContaining('cut off') }),
    );
    await expect(read('2423,1,0,0,,0,0,-9.8\n')).rejects.toThrow(
      expect.objectContaining({ place: 'line 2, column gz_radps' }),
    );
    await expect(read('2423,1,0,0,x,0,0,-9.8\n')).rejects.toThrow(
      expect.objectContaining({ place: 'line 2, column gz_radps' }),
    );
    await expect(readInertialCsv(bytes('gps_week,gps_sow,gx_degps\n'), 'unit.csv')).rejects.toThrow(
      /gx_radps is missing/,
    );
  });
});

describe('inertial data, HDF5', () => {
  const n = 70000;
  const data = {
    week: 2423,
    rateHz: 200,
    sow: Float64Array.from({ length: n }, (_, i) => 205200 + i / 200),
    gyroRadps: Float64Array.from({ length: 3 * n }, (_, i) => Math.sin(i) / 100),
    accelMps2: Float64Array.from({ length: 3 * n }, (_, i) => (i % 3 === 2 ? -9.8 : Math.cos(i))),
  };

  it('comes back to the bit, over several chunks, and is recognised by content', async () => {
    const path = join(folder, 'any.name');
    await writeInertialFile(path, data);
    expect(await recogniseFile(path)).toBe(FORMATS.inertial);
    const back = await readInertial(path);
    expect(back.week).toBe(2423);
    expect(back.rateHz).toBe(200);
    for (const key of ['sow', 'gyroRadps', 'accelMps2'] as const)
      expect(Buffer.compare(Buffer.from(back[key].buffer), Buffer.from(data[key].buffer))).toBe(0);
  });

  it('is refused with file and place when cut off, of another layout, or not in the order of time', async () => {
    const cut = join(folder, 'cut.h5');
    await writeInertialFile(cut, data);
    await truncate(cut, Math.floor((await readFile(cut)).length / 2));
    await expect(readInertial(cut)).rejects.toMatchObject({ code: 'inertial-hdf5', file: 'cut.h5' });

    const flat = join(folder, 'flat.h5');
    await writeHdf5(
      flat,
      'imu',
      {
        gps_sow: { data: data.sow.subarray(0, 4), dtype: '<d' },
        gyro: { data: data.sow.subarray(0, 12), dtype: '<d', width: 3 },
        accel: { data: data.sow.subarray(0, 4), dtype: '<d' },
      },
      { gps_week: { value: 2423, dtype: '<i' }, rate_hz: { value: 200, dtype: '<d' } },
    );
    await expect(readInertial(flat)).rejects.toMatchObject({ code: 'inertial-layout', place: '/imu/accel' });

    const back = join(folder, 'back.h5');
    const sow = data.sow.slice(0, 100);
    sow[50] = sow[48];
    await writeInertialFile(back, {
      ...data,
      sow,
      gyroRadps: data.gyroRadps.subarray(0, 300),
      accelMps2: data.accelMps2.subarray(0, 300),
    });
    await expect(readInertial(back)).rejects.toMatchObject({ code: 'inertial-order', place: '/imu, row 50' });

    const none = join(folder, 'none.csv');
    await writeFile(none, `${HEADER}\n`);
    await expect(readInertial(none)).rejects.toMatchObject({ code: 'inertial-empty' });
  });
});
