import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { geodeticToEcef, GRS80, type Mounting } from '@longheron/core/frames';
import { type KinematicEpoch } from '@longheron/core/gnss';
import { writeInertialFile } from '@longheron/formats/inertial';
import { ReportBuilder } from '../shared/report';
import { withInertial } from './inertial';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'longheron-position-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const mounting: Mounting = { gnssLeverArmM: [0, 0, -1], sensors: {} };
const at = geodeticToEcef(GRS80, 0.98, 0.15, 45);
const epochs: KinematicEpoch[] = Array.from({ length: 60 }, (_, i) => ({
  sow: 1000 + i,
  xyzM: at.slice(),
  covariance: Float64Array.of(1e-5, 0, 0, 0, 1e-5, 0, 0, 0, 1e-5),
  solution: 'fixed' as const,
  satellites: 12,
  ratio: 9,
  successRate: 1,
  separationM: 0,
}));

/** A unit at rest for a minute; its specific force in another unit, or with a hole. */
async function unit(name: string, change: { factor?: number; holeS?: number }): Promise<string> {
  const rows = Array.from({ length: 6000 }, (_, i) => i).filter(
    (i) => !change.holeS || i < 3000 || i >= 3000 + 100 * change.holeS,
  );
  const path = join(folder, name);
  await writeInertialFile(path, {
    week: 2423,
    rateHz: 100,
    sow: Float64Array.from(rows, (i) => 1000 + i / 100),
    gyroRadps: new Float64Array(3 * rows.length),
    accelMps2: Float64Array.from({ length: 3 * rows.length }, (_, k) =>
      k % 3 === 2 ? -9.815 * (change.factor ?? 1) : 0,
    ),
  });
  return path;
}
const run = (path: string, m = mounting) =>
  withInertial({ path, mounting: m, platform: 'vehicle' }, epochs, 2423, new ReportBuilder('position', {}));

describe('inertial data that cannot be used', () => {
  it('in units of g: named with the file and the remedy', async () => {
    await expect(run(await unit('g.imu.h5', { factor: 1 / 9.80665 }))).rejects.toMatchObject({
      code: 'inertial-force-unit',
      file: 'g.imu.h5',
      remedy: 'Export the data in m/s².',
      message: expect.stringContaining('units of g'),
    });
  });

  it('with a long gap in the middle: named with its place', async () => {
    await expect(run(await unit('gap.imu.h5', { holeS: 3 }))).rejects.toMatchObject({
      code: 'inertial-gap',
      place: 'second of week 1029.990 to 1033.000',
    });
  });

  it('with a mounting that does not say where the antenna is', async () => {
    await expect(run(await unit('plain.imu.h5', {}), { sensors: {} })).rejects.toMatchObject({
      code: 'mounting-antenna',
      place: 'gnss.lever_arm_m',
    });
  });

  it('that never moves and feels no turn of the Earth: no heading is made up', async () => {
    await expect(run(await unit('still.imu.h5', {}))).rejects.toMatchObject({ code: 'inertial-heading' });
  });
});
