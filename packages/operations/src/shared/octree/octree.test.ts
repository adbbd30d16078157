import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { RECORD_WORDS } from '@longheron/core/cloud';
import { Random } from '@longheron/core/numeric';
import { writeFileWhole } from '@longheron/formats/bytes';
import { LasFile, LasWriter } from '@longheron/formats/las';
import { buildCloud, type BuiltCloud } from './index';
import { sortChunk } from './chunk';

const N = 60_000;
let folder: string;
let built: BuiltCloud;
let file: LasFile;
const random = new Random(5);
const easting = Float64Array.from({ length: N }, () => random.between(467000, 467080));
const northing = Float64Array.from({ length: N }, () => random.between(6215000, 6215060));
const height = Float64Array.from({ length: N }, (_, i) => 3 + 0.02 * (easting[i] - 467000) + (i % 97 === 0 ? 6 : 0));
const columns = {
  easting,
  northing,
  height,
  intensity: Uint16Array.from({ length: N }, (_, i) => i % 4000),
  returnNumber: new Uint8Array(N).fill(1),
  returnCount: new Uint8Array(N).fill(2),
  classification: Uint8Array.from({ length: N }, (_, i) => (i % 3 === 0 ? 2 : 6)),
  scannerChannel: 0,
  strip: new Uint16Array(N).fill(3),
  gpsS: Float64Array.from({ length: N }, (_, i) => 1465635000 + i * 0.001),
  sdE: new Float32Array(N).fill(0.01),
  sdN: new Float32Array(N).fill(0.01),
  sdH: new Float32Array(N).fill(0.0123),
};
const files = (f: string) => ({
  position: join(f, 'p'),
  attributes: join(f, 'a'),
  classes: join(f, 'c'),
  order: join(f, 'o'),
  colour: join(f, 'rgb'),
});

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'octree-'));
  const las = join(folder, 'a.las');
  await writeFileWhole(las, async (out) => {
    const w = await LasWriter.create(out, 'PROJCS[""]', [467000, 6214000, 0], new Date());
    await w.append(columns);
    await w.finish();
  });
  file = await LasFile.openPath(las);
  built = await buildCloud(file, 1, 1, files(folder), folder);
});
afterAll(async () => {
  await file.close();
  await rm(folder, { recursive: true });
});

/** Every point is there once, within half a step of its coordinates and in its node's cube. */
async function checkPlaces(
  cloud: BuiltCloud,
  at: string,
  given: { easting: Float64Array; northing: Float64Array; height: Float64Array },
): Promise<void> {
  const position = new Int32Array((await readFile(files(at).position)).buffer.slice(0));
  const order = new Uint32Array((await readFile(files(at).order)).buffer.slice(0));
  expect(cloud.count).toBe(given.easting.length);
  expect(new Set(order).size).toBe(cloud.count);
  let off = 0;
  let outside = 0;
  for (const n of cloud.nodes) {
    const edge = cloud.rootM / 2 ** n.level;
    for (let k = n.first; k < n.first + n.count; k++) {
      const p = [0, 1, 2].map((a) => position[3 * k + a] * cloud.scale);
      const i = order[k];
      off = Math.max(
        off,
        Math.abs(p[0] + cloud.origin[0] - given.easting[i]),
        Math.abs(p[1] + cloud.origin[1] - given.northing[i]),
        Math.abs(p[2] + cloud.origin[2] - given.height[i]),
      );
      if ([n.x, n.y, n.z].some((c, a) => p[a] < c * edge - 0.001 || p[a] > (c + 1) * edge + 0.001)) outside++;
    }
  }
  // half a millimetre of the store and half a tenth of the file
  expect(off).toBeLessThan(0.00056);
  expect(outside).toBe(0);
}

describe('the store of a cloud', () => {
  it('holds every point once, in the node whose cube it lies in, within half a millimetre', async () => {
    await checkPlaces(built, folder, { easting, northing, height });
  });
  it('hangs together: each node has its parent, and each level thins evenly', () => {
    const there = new Set(built.nodes.map((n) => `${n.level} ${n.x} ${n.y} ${n.z}`));
    for (const n of built.nodes)
      if (n.level) expect(there.has(`${n.level - 1} ${n.x >> 1} ${n.y >> 1} ${n.z >> 1}`)).toBe(true);
    // the root holds one point in each of its 64³ cells that has points
    const cells = new Set<string>();
    const cell = built.rootM / 64;
    for (let i = 0; i < N; i++)
      cells.add(
        [easting[i] - built.origin[0], northing[i] - built.origin[1], height[i] - built.origin[2]]
          .map((v) => Math.floor(v / cell))
          .join(),
      );
    expect(Math.abs(built.nodes[0].count - cells.size)).toBeLessThan(cells.size * 0.01);
  });
  it('keeps attributes and says the ranges, classes and density', async () => {
    const order = new Uint32Array((await readFile(files(folder).order)).buffer.slice(0));
    const a = await readFile(files(folder).attributes);
    for (const k of [0, 777, N - 1]) {
      const i = order[k];
      expect(a.readUInt16LE(12 * k)).toBe(columns.intensity[i]);
      expect(a.readUInt16LE(12 * k + 2)).toBe(3);
      expect(built.timeOrigin + a.readUInt32LE(12 * k + 4) * built.timeStepS).toBeCloseTo(columns.gpsS[i], 3);
      expect(a.readUInt16LE(12 * k + 8)).toBe(123);
      expect([a[12 * k + 10], a[12 * k + 11]]).toEqual([1, 2]);
    }
    expect(built.countsByClass).toEqual({ '2': N / 3, '6': (2 * N) / 3 });
    expect(built.ranges.precision[1]).toBeCloseTo(0.0123, 5);
    expect(built.density!.perM2.reduce((s, v) => s + v, 0)).toBe(N);
  });
});

describe('chunks', () => {
  it('on disk hold every point once, also when the header states a wrong extent', async () => {
    const count = 200_000;
    const random = new Random(6);
    const easting = Float64Array.from({ length: count }, () => random.between(467000, 467300));
    const northing = Float64Array.from({ length: count }, (_, i) => 6215000 + (i / count) * 200);
    const height = Float64Array.from({ length: count }, (_, i) => 3 + 0.02 * (easting[i] - 467000));
    const fill = <T extends { fill(v: number): T }>(a: T, v: number) => a.fill(v);
    const path = join(folder, 'large.las');
    await writeFileWhole(path, async (out) => {
      const w = await LasWriter.create(out, 'PROJCS[""]', [467000, 6214000, 0], new Date());
      await w.append({
        easting,
        northing,
        height,
        scannerChannel: 0,
        intensity: new Uint16Array(count),
        returnNumber: fill(new Uint8Array(count), 1),
        returnCount: fill(new Uint8Array(count), 1),
        strip: new Uint16Array(count),
        gpsS: fill(new Float64Array(count), 1465635000),
        sdE: new Float32Array(count),
        sdN: new Float32Array(count),
        sdH: new Float32Array(count),
      });
      await w.finish();
    });
    const results: Array<{ nodes: string; position: Buffer }> = [];
    for (const wrong of [false, true]) {
      const at = await mkdtemp(join(folder, 'chunks-'));
      const bytes = await readFile(path);
      // the largest easting, 100 m too large
      if (wrong) bytes.writeDoubleLE(bytes.readDoubleLE(179) + 100, 179);
      await writeFile(join(at, 'a.las'), bytes);
      const las = await LasFile.openPath(join(at, 'a.las'));
      const cloud = await buildCloud(las, 1, 1, files(at), at);
      await las.close();
      await checkPlaces(cloud, at, { easting, northing, height });
      expect((await readdir(at)).sort()).toEqual(['a', 'a.las', 'c', 'o', 'p']);
      results.push({ nodes: JSON.stringify(cloud.nodes), position: await readFile(files(at).position) });
    }
    expect(results[1].nodes).toBe(results[0].nodes);
    expect(results[1].position.equals(results[0].position)).toBe(true);
  });
  it('give the same nodes cut in eight as whole', () => {
    const n = 40_000;
    const records = new Int32Array(n * RECORD_WORDS);
    for (let i = 0; i < n; i++)
      for (let a = 0; a < 3; a++) records[i * RECORD_WORDS + a] = Math.floor(random.between(0, 63_999));
    const whole = sortChunk(records, 0.001, 64, 4, 0, { high: 0, low: 0, started: false });
    const walk = { high: 0, low: 0, started: false };
    const table = new Map<string, number>();
    for (let octant = 0; octant < 8; octant++) {
      const rows = [...Array(n).keys()].filter(
        (i) =>
          octant ===
          (records[i * RECORD_WORDS] >= 32000 ? 4 : 0) +
            (records[i * RECORD_WORDS + 1] >= 32000 ? 2 : 0) +
            (records[i * RECORD_WORDS + 2] >= 32000 ? 1 : 0),
      );
      const part = Int32Array.from(
        rows.flatMap((i) => [...records.subarray(i * RECORD_WORDS, (i + 1) * RECORD_WORDS)]),
      );
      for (const node of sortChunk(part, 0.001, 64, 4, 1, walk).nodes) {
        const key = `${node.level} ${node.x} ${node.y} ${node.z}`;
        table.set(key, (table.get(key) ?? 0) + node.count);
      }
    }
    for (const node of whole.nodes)
      expect([node.level, table.get(`${node.level} ${node.x} ${node.y} ${node.z}`)]).toEqual([node.level, node.count]);
  });
});
