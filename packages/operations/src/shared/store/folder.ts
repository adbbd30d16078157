import { createHash } from 'node:crypto';
import { rename, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { hashFile } from '@longheron/formats/bytes';
import { type Kept, type Store } from './types';

/** A store in a folder of its own, for computations without the application. */
export class FolderStore implements Store {
  private count = 0;

  constructor(private readonly folder: string) {}

  path(sha256: string): string {
    return join(this.folder, sha256);
  }

  scratch(): string {
    return join(this.folder, `scratch-${this.count++}`);
  }

  async bytes(data: Uint8Array): Promise<string> {
    const sha256 = createHash('sha256').update(data).digest('hex');
    await writeFile(this.path(sha256), data);
    return sha256;
  }

  async file(write: (path: string) => Promise<unknown>): Promise<Kept> {
    const path = this.scratch();
    await write(path);
    return this.take(path);
  }

  async take(path: string): Promise<Kept> {
    const { sha256 } = await hashFile(path);
    await rename(path, this.path(sha256));
    return { sha256, bytes: (await stat(this.path(sha256))).size };
  }

  json(value: unknown): Promise<string> {
    return this.bytes(new TextEncoder().encode(JSON.stringify(value)));
  }
}
