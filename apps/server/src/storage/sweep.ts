import { readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { Picture, Revision, StoredObject } from '../database/models';

/** Younger objects may belong to a job that has not committed yet. */
const YOUNG_MS = 3600_000;

/** Uploads that were not finished, or not taken in, are kept this long for another try. */
const KEEP_UPLOADS_MS = 7 * 86400_000;

/** Removes uploads that nobody came back to. @returns how many. */
export async function sweepUploads(storeFolder: string): Promise<number> {
  const folder = join(storeFolder, 'uploads');
  let count = 0;
  for (const name of await readdir(folder).catch(() => [])) {
    const path = join(folder, name);
    if (Date.now() - (await stat(path)).mtimeMs < KEEP_UPLOADS_MS) continue;
    await rm(path, { recursive: true });
    count++;
  }
  return count;
}

/** Hashes named anywhere in a value, added to a set. */
export function namesIn(value: unknown, into: Set<string>): void {
  if (typeof value === 'string') {
    if (/^[0-9a-f]{64}$/.test(value)) into.add(value);
  } else if (Array.isArray(value)) for (const v of value) namesIn(v, into);
  else if (value && typeof value === 'object') for (const v of Object.values(value)) namesIn(v, into);
}

/**
 * Removes stored objects that nothing refers to any more. Cloud indexes are read, since they name further objects.
 * @returns number and bytes of what was removed.
 */
export async function sweepObjects(
  storeFolder: string,
  readIndex: (sha256: string) => Promise<unknown>,
): Promise<{ objects: number; bytes: number }> {
  const used = new Set<string>();
  for (const r of await Revision.findAll({ attributes: ['contentHash', 'content'], raw: true })) {
    used.add((r.contentHash as Buffer).toString('hex'));
    const content = (typeof r.content === 'string' ? JSON.parse(r.content) : r.content) as { index?: string };
    namesIn(content, used);
    if (content.index) namesIn(await readIndex(content.index).catch(() => null), used);
  }
  for (const p of await Picture.findAll()) used.add(p.object.toString('hex'));
  let objects = 0;
  let bytes = 0;
  for (const folder of await readdir(storeFolder)) {
    if (!/^[0-9a-f]{2}$/.test(folder)) continue;
    for (const name of await readdir(join(storeFolder, folder))) {
      if (used.has(name)) continue;
      const path = join(storeFolder, folder, name);
      const s = await stat(path);
      if (Date.now() - s.mtimeMs < YOUNG_MS) continue;
      await rm(path);
      await StoredObject.destroy({ where: { sha256: Buffer.from(name, 'hex') } });
      objects++;
      bytes += s.size;
    }
  }
  return { objects, bytes };
}
