import { afterAll, beforeAll, expect, it } from 'vitest';
import { Random } from '@longheron/core/numeric';
import { LasFile } from '@longheron/formats/las';
import { OnFiles } from '../test/onFiles';

const CRS = 'EPSG:25832+5773';
const NOISE_M = 0.01;
const random = new Random(8, 'smooth');
/** A sloping plane of 10 m with 1 cm of noise, 400 points to a square metre, and a wire 3 m above it. */
const plane = (x: number, y: number) => 6 + 0.1 * x - 0.05 * y;
const POINTS: number[][] = Array.from({ length: 40_000 }, () => {
  const [x, y] = [random.between(0, 10), random.between(0, 10)];
  return [467_000 + x, 6_215_000 + y, plane(x, y) + NOISE_M * random.normal(), 2];
});
const WIRE = Array.from({ length: 500 }, (_, i) => [467_000 + i / 50, 6_215_005, 9.5 + 0.02 * random.normal(), 14]);

let files: OnFiles;
let cloud: string;
beforeAll(async () => {
  files = await OnFiles.create();
  cloud = await files.cloud('plane', [...POINTS, ...WIRE], CRS, ['classification']);
});
afterAll(() => files.remove());

it('takes most of the noise out of a plane, leaves wires, and says by how much it moved points', async () => {
  const { content, path, notices } = await files.run(
    'smooth',
    { cloud: [cloud] },
    { radiusM: 0.3, thickM: 0.02, mostM: 0.05 },
    { keeps: true, crs: CRS },
  );
  const file = await LasFile.openPath(path('cloud'));
  const { scale, offset } = file.header;
  const p = await file.readAll();
  await file.close();
  let squares = 0;
  let n = 0;
  for (let i = 0; i < POINTS.length; i++) {
    const at = (v: Int32Array, k: number) => v[i] * scale[k] + offset[k];
    const [x, y] = [at(p.x, 0) - 467_000, at(p.y, 1) - 6_215_000];
    if (Math.min(x, y, 10 - x, 10 - y) < 0.5) continue;
    squares += (at(p.z, 2) - plane(x, y)) ** 2;
    n++;
  }
  expect(Math.sqrt(squares / n)).toBeLessThan(0.25 * NOISE_M);
  for (let i = 0; i < WIRE.length; i++) {
    const k = POINTS.length + i;
    expect(p.z[k] * scale[2] + offset[2]).toBeCloseTo(WIRE[i][2], 3);
  }
  const { figures } = content;
  expect(figures).toMatchObject({ points: POINTS.length + WIRE.length });
  if (!figures || !('moved' in figures)) throw new Error('no figures of smoothing');
  const f = figures as typeof figures & { moved: number; rms_m: number; most_m: number };
  expect(f.moved).toBeGreaterThan(0.9 * POINTS.length);
  expect(f.rms_m).toBeCloseTo(NOISE_M, 2);
  expect(f.most_m).toBeLessThanOrEqual(0.05);
  expect(notices.map((x) => x.code)).toEqual(['smoothed']);
});
