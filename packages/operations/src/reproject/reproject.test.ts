import { afterAll, beforeAll, expect, it } from 'vitest';
import { parseSystem } from '@longheron/formats/crs';
import { LasFile } from '@longheron/formats/las';
import { OnFiles } from '../test/onFiles';

const FROM = 'EPSG:25832+5773';
const TO = 'EPSG:25833';
const POINTS = Array.from({ length: 50 }, (_, i) => [467_000 + i, 6_215_000 + 2 * i, 4 + i / 10]);
let files: OnFiles;
beforeAll(async () => (files = await OnFiles.create()));
afterAll(() => files.remove());

async function carried(cloud: string, settings = {}) {
  const ran = await files.run('reproject', { cloud: [cloud] }, settings, { keeps: true, crs: TO });
  const file = await LasFile.openPath(ran.path('cloud'));
  const { scale, offset } = file.header;
  const p = await file.readAll();
  await file.close();
  return { ...ran, at: (i: number) => [p.x[i], p.y[i], p.z[i]].map((v, k) => v * scale[k] + offset[k]) };
}
function expected([e, n, h]: number[]): number[] {
  const geo = new Float64Array(3);
  const out = new Float64Array(3);
  parseSystem(FROM).unproject(e, n, h, geo);
  parseSystem(TO).project(geo[0], geo[1], geo[2], out);
  return Array.from(out);
}

it('carries a cloud into the next zone and from the geoid to the ellipsoid, and says how', async () => {
  const { at, content, notices, made } = await carried(await files.cloud('c', POINTS, FROM));
  for (const i of [0, 24, 49]) expected(POINTS[i]).forEach((v, k) => expect(at(i)[k]).toBeCloseTo(v, 2));
  expect(content).toMatchObject({ reprojected: { from: FROM, to: TO, stated: false }, figures: { points: 50 } });
  expect(notices.at(-1)!.text).toMatch(/Heights: .* to /);
  expect(made.name).toContain(TO);
});

it('takes the word of a person for a file that names no system, and needs it', async () => {
  const bare = await files.cloud('bare', POINTS, '');
  const { at, content } = await carried(bare, { from: FROM });
  expected(POINTS[7]).forEach((v, k) => expect(at(7)[k]).toBeCloseTo(v, 2));
  expect(content.reprojected!.stated).toBe(true);
  await expect(carried(bare)).rejects.toThrow(/system/);
});
