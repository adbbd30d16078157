import { randomBytes } from 'node:crypto';
import { join } from 'node:path';
import { type Kept, type Store } from '@longheron/operations/shared/store';
import { storeBytes, storeFile } from '../storage';

/** An object that a worker has put into the store, for the catalogue. */
export interface KeptObject extends Kept {
  kind: string;
}

/** The store as worker threads see it: without a database; what they put into it is collected. */
export class Shelf implements Store {
  readonly objects: KeptObject[] = [];
  constructor(private readonly folder: string) {}

  path(sha256: string): string {
    return join(this.folder, sha256.slice(0, 2), sha256);
  }

  scratch(): string {
    return join(this.folder, 'incoming', randomBytes(8).toString('hex'));
  }

  async bytes(data: Uint8Array, kind: string): Promise<string> {
    return this.collected(await storeBytes(this.folder, data), kind).sha256;
  }

  async file(write: (path: string) => Promise<unknown>, kind: string): Promise<Kept> {
    const path = this.scratch();
    await write(path);
    return this.take(path, kind);
  }

  async take(path: string, kind: string): Promise<Kept> {
    return this.collected(await storeFile(this.folder, path), kind);
  }

  json(value: unknown, kind: string): Promise<string> {
    return this.bytes(new TextEncoder().encode(JSON.stringify(value)), kind);
  }

  private collected(kept: Kept, kind: string): Kept {
    this.objects.push({ ...kept, kind });
    return kept;
  }
}
