import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { Random } from '@longheron/core/numeric';
import { Problem } from '@longheron/core/shared';
import { inspectFile } from '@longheron/formats/registry';
import { mutated, mutations } from './mutations';
import { makeSamples } from './samples';

it('files with something wrong in them are read or refused in words, and end no process', async () => {
  const { count, read, refused, faults } = await mutations(400, 3, 'dist/node/reader.js', 2, undefined, 20);
  expect(faults).toEqual([]);
  expect([count, read + refused]).toEqual([400, 400]);
  // neither all harmless nor all hopeless
  expect(refused).toBeGreaterThan(50);
  expect(read).toBeGreaterThan(50);
}, 900_000);

it('the changes are the same for the same seed, and leave the file itself alone', () => {
  const bytes = Uint8Array.from({ length: 3000 }, (_, k) => k & 255);
  const kept = bytes.slice();
  for (let k = 0; k < 60; k++) expect(mutated(bytes, new Random(5, k))).toEqual(mutated(bytes, new Random(5, k)));
  expect(bytes).toEqual(kept);
  const different = Array.from({ length: 60 }, (_, k) => mutated(bytes, new Random(5, k))).filter(
    (m) => m.length !== bytes.length || m.some((v, i) => v !== bytes[i]),
  );
  expect(different.length).toBeGreaterThan(55);
});

it('compressed clouds that promise gigabytes are refused before any is asked for', async () => {
  const folder = await mkdtemp(join(tmpdir(), 'longheron-laz-'));
  const good = await readFile((await makeSamples(folder)).find((path) => path.endsWith('cloud.laz'))!);
  const before = process.memoryUsage().rss;
  // changes that once made two kilobytes ask for two gigabytes, or read beyond a record
  for (const change of [2376, 24066, 35106, 35916, 48156]) {
    const path = join(folder, 'changed.laz');
    await writeFile(path, mutated(good, new Random(5, change)));
    await expect(inspectFile(path, 'changed.laz')).rejects.toBeInstanceOf(Problem);
  }
  expect(process.memoryUsage().rss - before).toBeLessThan(1e9);
  await rm(folder, { recursive: true, force: true });
}, 900_000);
