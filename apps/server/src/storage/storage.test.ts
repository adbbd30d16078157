import { createHash } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, expect, it, vi } from 'vitest';
import { ObjectStore } from '.';

const folder = mkdtempSync(join(tmpdir(), 'longheron-store-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

it('gives no name to a file that was changed while it was copied, and leaves nothing of it behind', async () => {
  const store = new ObjectStore(join(folder, 'objects'));
  vi.spyOn(store, 'catalogue').mockResolvedValue();
  const path = join(folder, 'marks.csv');
  writeFileSync(path, 'one');
  const name = createHash('sha256').update('one').digest('hex');
  writeFileSync(path, 'another');
  const changed = () => Promise.reject(new Error('changed'));
  await expect(store.takeFile(path, name, 3, 'marks', false, changed)).rejects.toThrow('changed');
  expect(store.has(name)).toBe(false);
  expect(readdirSync(join(folder, 'objects', 'incoming'))).toEqual([]);
  expect(store.catalogue).not.toHaveBeenCalled();
  writeFileSync(path, 'one');
  await store.takeFile(path, name, 3, 'marks', false, () => Promise.resolve());
  expect(readFileSync(store.path(name), 'utf8')).toBe('one');
});
