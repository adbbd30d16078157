import { mkdtemp, readdir, readFile, readlink, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { writeLaserFile } from '@longheron/formats/laser';
import { WorkPool } from './pool';

let folder: string;
let pool: WorkPool;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'pool-'));
  pool = new WorkPool(folder, 1);
});
afterAll(async () => {
  await pool.stop();
  await rm(folder, { recursive: true, force: true });
});

const N = 300;
async function laser(path: string): Promise<void> {
  const of = (v: number) => new Float32Array(N).fill(v);
  const count = new Uint8Array(N).fill(1);
  await writeLaserFile(path, { week: 2423, sensor: 'head', rangeSdM: 0.01, angleSdDeg: 0.01, serial: 'S1' } as never, {
    week: 2423,
    sow: Float64Array.from({ length: N }, (_, k) => 1000 + k / 100),
    rangeM: of(20),
    azimuthDeg: of(90),
    elevationDeg: of(0),
    intensity: new Uint16Array(N),
    returnNumber: count,
    returnCount: count,
  });
}
const look = (path: string, name: string) =>
  pool.ask('inspect', { path, name, context: {}, crs: null }, new AbortController().signal).then(
    ({ content }) => content.facts.count,
    (error: Error) => error.message,
  );
/** Files of the folder that this process holds open, and temporary ones that have no name any more. */
async function held(): Promise<number> {
  let count = 0;
  for (const fd of await readdir('/proc/self/fd')) {
    const target = await readlink(`/proc/self/fd/${fd}`).catch(() => '');
    if (target.startsWith(folder) || target.startsWith('/tmp/tmpfile')) count++;
  }
  return count;
}

describe('a thread whose decoder failed', () => {
  it('ends: damaged files are named, nothing stays open, good files at the same place are read', async () => {
    const path = join(folder, 'head.h5');
    await laser(path);
    const good = await readFile(path);
    expect(await look(path, 'head.h5')).toBe(N);
    for (let cut = 1; cut <= 6; cut++) {
      const damaged = Uint8Array.from(good);
      // another place of the structure each time
      damaged.fill(0xff, 90 * cut, 90 * cut + 40);
      await writeFile(path, damaged);
      expect(await look(path, 'head.h5')).toMatch(/HDF5|column|group|attribute|read/);
      await writeFile(path, good);
      expect(await look(path, 'head.h5')).toBe(N);
    }
    expect(await held()).toBe(0);
  });
});
