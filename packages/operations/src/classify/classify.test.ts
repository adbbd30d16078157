import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type Given } from '@longheron/contract/declare';
import { LAS_CLASS } from '@longheron/core/cloud';
import { Random } from '@longheron/core/numeric';
import { LasFile } from '@longheron/formats/las';
import { OnFiles } from '../test/onFiles';

const NOISE_M = 0.012;
const random = new Random(12, 'classify');
/** A plane of 40 m with a roof of 10 m on it, and lone points far above and below. */
const POINTS: number[][] = [];
const kinds: Array<'ground' | 'roof' | 'high' | 'low'> = [];
const put = (x: number, y: number, z: number, kind: (typeof kinds)[number]) => {
  POINTS.push([467_000 + x, 6_215_000 + y, z]);
  kinds.push(kind);
};
const plane = (x: number, y: number) => 20 + 0.05 * x - 0.03 * y;
for (let i = 0; i < 24_000; i++) {
  const [x, y] = [random.between(0, 40), random.between(0, 40)];
  const roof = x > 12 && x < 22 && y > 15 && y < 25;
  put(x, y, plane(x, y) + (roof ? 5 : 0) + NOISE_M * random.normal(), roof ? 'roof' : 'ground');
}
for (let i = 0; i < 12; i++) {
  const [x, y] = [3 + 3 * i, 5 + 2.5 * i];
  put(x, y, plane(x, y) + (i % 2 ? 22 + i : -6 - i / 2), i % 2 ? 'high' : 'low');
}

let files: OnFiles;
let cloud: string;
beforeAll(async () => {
  files = await OnFiles.create();
  cloud = await files.cloud('plane', POINTS);
});
afterAll(() => files.remove());

async function classified(settings: Given) {
  const ran = await files.run('classify', { cloud: [cloud] }, settings);
  const file = await LasFile.openPath(ran.path('cloud'));
  const { classification } = await file.readAll();
  await file.close();
  const share = (kind: (typeof kinds)[number], cls: number) => {
    const of = kinds.flatMap((k, i) => (k === kind ? [i] : []));
    return of.filter((i) => classification[i] === cls).length / of.length;
  };
  return { ...ran, share };
}

describe('strays and ground of a cloud', () => {
  it.each(['triangles', 'cloth'])('are found by %s; the report says noise and distance', async (method) => {
    const { share, content, made } = await classified({ method, things: false });
    expect(share('ground', LAS_CLASS.ground)).toBeGreaterThan(0.995);
    expect(share('roof', LAS_CLASS.unclassified)).toBeGreaterThan(0.995);
    expect(share('high', LAS_CLASS.highNoise)).toBe(1);
    expect(share('low', LAS_CLASS.lowNoise)).toBe(1);
    expect(content.figures).toMatchObject({ points: POINTS.length, strays: 12 });
    const report = made.report as unknown as { noise_sd_m: number; ground_within_m: number; withheld: number };
    expect(report.withheld).toBe(12);
    expect(report.noise_sd_m / NOISE_M).toBeGreaterThan(0.7);
    expect(report.noise_sd_m / NOISE_M).toBeLessThan(1.15);
    expect(report.ground_within_m).toBeGreaterThanOrEqual(0.07);
  });

  it('give a roof its class, and as near to the surface as a person says', async () => {
    const { share } = await classified({ things: true });
    // at 15 points/m² the shape of a plane is told for most, not all of it
    expect(share('roof', LAS_CLASS.building)).toBeGreaterThan(0.5);
    expect(share('roof', LAS_CLASS.ground)).toBe(0);
    const near = await classified({ things: false, withinM: 0.01 });
    // one deviation to each side holds two thirds, less what the surface is itself uncertain by
    expect(near.share('ground', LAS_CLASS.ground)).toBeGreaterThan(0.45);
    expect(near.share('ground', LAS_CLASS.ground)).toBeLessThan(0.69);
    expect((near.made.report as unknown as { ground_within_m: number }).ground_within_m).toBe(0.01);
  });

  it('are looked for one without the other, and never neither', async () => {
    const noise = await classified({ ground: false });
    expect(noise.share('ground', LAS_CLASS.ground)).toBe(0);
    expect(noise.content.figures).toMatchObject({ strays: 12, ground: 0 });
    expect(noise.made.report).not.toHaveProperty('noise_sd_m');
    const ground = await classified({ noise: false, things: false });
    expect(ground.content.figures).toMatchObject({ strays: 0 });
    await expect(files.run('classify', { cloud: [cloud] }, { ground: false, noise: false })).rejects.toThrow(
      /Nothing to do/,
    );
  });
});
