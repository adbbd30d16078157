import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { writeFileWhole } from '../bytes';
import { parseSystem, wktOfSystem } from '../crs';
import { LasWriter, type PlacedColumns } from '.';
import { inspectFile } from '../registry';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'inspect-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const N = 2000;
/** A cloud written as the product writes it. */
async function cloud(name: string, more: Partial<PlacedColumns> = {}, crs = 'EPSG:25832+5773'): Promise<string> {
  const path = join(folder, name);
  await writeFileWhole(path, async (out) => {
    const wkt = crs ? wktOfSystem(parseSystem(crs).definition) : '';
    const writer = await LasWriter.create(out, wkt, [465_000, 6_213_000, -2000], new Date(0));
    const of = (f: (i: number) => number) => Float64Array.from({ length: N }, (_, i) => f(i));
    await writer.append({
      easting: of((i) => 467_000 + (i % 50)),
      northing: of((i) => 6_215_000 + i / 50),
      height: of((i) => 3 + i / N),
      intensity: Uint16Array.from({ length: N }, (_, i) => 100 + (i % 900)),
      returnNumber: new Uint8Array(N).fill(1),
      returnCount: new Uint8Array(N).fill(1),
      scannerChannel: 0,
      strip: new Uint16Array(N).fill(1),
      gpsS: of((i) => 1.46e9 + i / 100),
      sdE: new Float32Array(N),
      sdN: new Float32Array(N),
      sdH: new Float32Array(N),
      ...more,
    });
    await writer.finish();
  });
  return path;
}
const found = async (path: string) => (await inspectFile(path)).findings.map((f) => f.code);

describe('a cloud that is taken in', () => {
  it('is counted by class, with its extent and time', async () => {
    const classification = Uint8Array.from({ length: N }, (_, i) => (i % 4 === 0 ? 2 : i % 4 === 1 ? 70 : 5));
    const facts = await inspectFile(await cloud('good.las', { classification }));
    expect(facts.findings).toEqual([]);
    expect(Object.fromEntries(facts.details)).toMatchObject({
      Points: '2000',
      Classes: '2 ground 500, 5 high vegetation 1000, 70 of its own 500',
    });
    expect(facts.extent).toMatchObject({ crs: 'EPSG:25832+5773', min: [467_000, 6_215_000, 3] });
    expect([facts.startGps, facts.endGps]).toEqual([1.46e9, 1.46e9 + 19.99]);
  });

  it.each<[string, Partial<PlacedColumns>]>([
    ['las-flat', { height: new Float64Array(N) }],
    ['las-intensity', { intensity: new Uint16Array(N) }],
    ['las-clipped', { intensity: Uint16Array.from({ length: N }, (_, i) => (i % 20 ? 100 + (i % 900) : 65_535)) }],
    ['las-strays', { height: Float64Array.from({ length: N }, (_, i) => (i === 7 ? 400 : 3 + i / N)) }],
  ])('with a flaw has the finding %s', async (code, more) => {
    expect(await found(await cloud(`${code}.las`, more))).toEqual([code]);
  });

  it('without a system says so', async () => {
    expect(await found(await cloud('nowhere.las', {}, ''))).toEqual(['las-crs']);
  });
});
