import { createHash, randomBytes } from 'node:crypto';
import { constants, createReadStream, existsSync, mkdirSync } from 'node:fs';
import { copyFile, link, open, rename, rm, stat } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { StoredObject } from '../database/models';

/** Immutable bytes named by their SHA-256. Nothing is overwritten; the same content is stored once. */
export class ObjectStore {
  constructor(private readonly folder: string) {
    mkdirSync(join(folder, 'incoming'), { recursive: true });
  }

  path(sha256: string): string {
    if (!/^[0-9a-f]{64}$/.test(sha256)) throw new Error('not an object name');
    return join(this.folder, sha256.slice(0, 2), sha256);
  }

  /** A name for a file to be written and then taken in. */
  incoming(): string {
    return join(this.folder, 'incoming', randomBytes(8).toString('hex'));
  }

  has(sha256: string): boolean {
    return existsSync(this.path(sha256));
  }

  /**
   * Takes a finished file in; dropped when the content is there already. The file itself stays where it is.
   * @param own nobody but us has the file, and nobody writes it any more: it is linked. Others are copied, so that what
   * happens to the original later does not happen to ours.
   * @param unchanged asked when the bytes are ours, before they get their name; what it throws leaves nothing behind.
   */
  async takeFile(
    path: string,
    sha256: string,
    bytes: number,
    kind: string,
    own: boolean,
    unchanged: () => Promise<void>,
  ): Promise<void> {
    const target = this.path(sha256);
    if (!existsSync(target)) {
      mkdirSync(dirname(target), { recursive: true });
      const temporary = this.incoming();
      const copied = () => copyFile(path, temporary, constants.COPYFILE_FICLONE);
      await (own ? link(path, temporary).catch(copied) : copied());
      await unchanged().catch(async (error: unknown) => {
        await rm(temporary, { force: true });
        throw error;
      });
      await flush(temporary);
      await rename(temporary, target);
      await flush(dirname(target));
    }
    await this.catalogue(sha256, bytes, kind);
  }

  async catalogue(sha256: string, bytes: number, kind: string): Promise<void> {
    await StoredObject.upsert({ sha256: Buffer.from(sha256, 'hex'), bytes, kind, createdAt: new Date() });
  }
}

/** Has what was written to a file, or into a folder, on the disk before going on. */
async function flush(path: string): Promise<void> {
  const handle = await open(path, 'r');
  await handle.sync().finally(() => handle.close());
}

/** For worker threads, which have no database: writes bytes into the store and gives name and size. */
export async function storeBytes(folder: string, data: Uint8Array): Promise<{ sha256: string; bytes: number }> {
  const sha256 = createHash('sha256').update(data).digest('hex');
  const target = join(folder, sha256.slice(0, 2), sha256);
  if (!existsSync(target)) {
    mkdirSync(dirname(target), { recursive: true });
    const temporary = join(folder, 'incoming', randomBytes(8).toString('hex'));
    const handle = await open(temporary, 'wx');
    await handle.writeFile(data);
    await handle.sync();
    await handle.close();
    await rename(temporary, target);
  }
  return { sha256, bytes: data.length };
}

/** The same for a file already written in the store's incoming folder. */
export async function storeFile(folder: string, path: string): Promise<{ sha256: string; bytes: number }> {
  const hash = createHash('sha256');
  for await (const chunk of createReadStream(path, { highWaterMark: 1 << 20 })) hash.update(chunk as Buffer);
  const sha256 = hash.digest('hex');
  const bytes = (await stat(path)).size;
  const target = join(folder, sha256.slice(0, 2), sha256);
  mkdirSync(dirname(target), { recursive: true });
  if (existsSync(target)) await rm(path);
  else {
    const handle = await open(path, 'r+');
    await handle.sync();
    await handle.close();
    await rename(path, target);
  }
  return { sha256, bytes };
}
