import { open, type FileHandle } from 'node:fs/promises';
import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { basename } from 'node:path';
import { Problem, tick, type Watch } from '@longheron/core/shared';

/** Bytes that can be read in any place; readers never hold a whole file. */
export interface ByteSource {
  /** For messages. */
  name: string;
  size: number;
  /**
   * Reads exactly `length` bytes; throws a Problem when the source ends before.
   * @param into where to put them, of at least that length; a new array otherwise.
   */
  read(offset: number, length: number, into?: Uint8Array): Promise<Uint8Array>;
  close(): Promise<void>;
}

export function truncated(name: string, offset: number, wanted: number, size: number): Problem {
  return new Problem(`The file ends at byte ${size}, but ${wanted} bytes are needed from byte ${offset}.`, {
    code: 'file-truncated',
    file: name,
    place: `byte ${offset}`,
    remedy: 'The file was cut off: copy it again from its origin.',
  });
}

class FileSource implements ByteSource {
  constructor(
    readonly name: string,
    readonly size: number,
    private readonly handle: FileHandle,
  ) {}

  async read(offset: number, length: number, into?: Uint8Array): Promise<Uint8Array> {
    if (offset < 0 || length < 0 || offset + length > this.size) throw truncated(this.name, offset, length, this.size);
    const out = into ? into.subarray(0, length) : new Uint8Array(length);
    let done = 0;
    while (done < length) {
      const { bytesRead } = await this.handle.read(out, done, length - done, offset + done);
      if (bytesRead === 0) throw truncated(this.name, offset, length, this.size);
      done += bytesRead;
    }
    return out;
  }

  close(): Promise<void> {
    return this.handle.close();
  }
}

/** Opens a file; a missing or unreadable one becomes a Problem. */
export async function openFile(path: string, name = basename(path)): Promise<ByteSource> {
  try {
    const handle = await open(path, 'r');
    const stat = await handle.stat();
    if (!stat.isFile()) {
      await handle.close();
      throw new Problem('This is not a file.', { code: 'file-kind', file: name, remedy: 'Choose a file.' });
    }
    return new FileSource(name, stat.size, handle);
  } catch (error) {
    if (error instanceof Problem) throw error;
    const code = (error as NodeJS.ErrnoException).code;
    throw new Problem(code === 'ENOENT' ? 'There is no such file.' : `The file cannot be opened (${code}).`, {
      code: 'file-open',
      file: path,
      remedy: 'Check the path and the permission to read it.',
    });
  }
}

/** A source over bytes in memory, for tests and small files. */
export function memorySource(bytes: Uint8Array, name: string): ByteSource {
  return {
    name,
    size: bytes.length,
    async read(offset, length) {
      if (offset < 0 || length < 0 || offset + length > bytes.length)
        throw truncated(name, offset, length, bytes.length);
      return bytes.slice(offset, offset + length);
    },
    async close() {},
  };
}

/** SHA-256 of a file, hexadecimal, and its size; streams. */
export async function hashFile(
  path: string,
  watch?: Watch,
  totalBytes = 0,
): Promise<{ sha256: string; bytes: number }> {
  const hash = createHash('sha256');
  let bytes = 0;
  for await (const chunk of createReadStream(path, { highWaterMark: 1 << 20 })) {
    hash.update(chunk as Buffer);
    bytes += (chunk as Buffer).length;
    tick(watch, totalBytes > 0 ? Math.min(1, bytes / totalBytes) : 0, 'Hashing');
  }
  return { sha256: hash.digest('hex'), bytes };
}
