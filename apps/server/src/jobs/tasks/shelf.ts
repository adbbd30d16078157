import { createHash, randomBytes } from 'node:crypto';
import { join } from 'node:path';
import { storeBytes, storeFile } from '../../storage';
import { type TaskObject } from './types';

export function incoming(folder: string): string {
  return join(folder, 'incoming', randomBytes(8).toString('hex'));
}

/** Collects what a task puts into the store. */
export class Shelf {
  readonly objects: TaskObject[] = [];
  constructor(private readonly folder: string) {}

  async bytes(data: Uint8Array, kind: string): Promise<string> {
    const o = await storeBytes(this.folder, data);
    this.objects.push({ ...o, kind });
    return o.sha256;
  }

  async file(fill: (path: string) => Promise<unknown>, kind: string): Promise<{ sha256: string; bytes: number }> {
    const path = incoming(this.folder);
    await fill(path);
    const o = await storeFile(this.folder, path);
    this.objects.push({ ...o, kind });
    return o;
  }

  /** Takes a finished file of the incoming folder in. */
  async take(path: string, kind: string): Promise<string> {
    const o = await storeFile(this.folder, path);
    this.objects.push({ ...o, kind });
    return o.sha256;
  }

  json(value: unknown, kind: string): Promise<string> {
    return this.bytes(new TextEncoder().encode(JSON.stringify(value)), kind);
  }
}

export function jsonHash(value: unknown): string {
  return createHash('sha256').update(JSON.stringify(value)).digest('hex');
}

/** Where an object of the store lies. */
export function objectPath(storeFolder: string, sha256: string): string {
  return join(storeFolder, sha256.slice(0, 2), sha256);
}
