import { createHash } from 'node:crypto';

export { FolderStore } from './folder';
export { type Kept, type Store } from './types';

/** Stands for content that no single file stands for. */
export function jsonHash(value: unknown): string {
  return createHash('sha256').update(JSON.stringify(value)).digest('hex');
}
