import { open, rename, rm, type FileHandle } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { randomBytes } from 'node:crypto';
import { Problem } from '@longheron/core/shared';

/**
 * Writes a file beside its final name and renames it when complete, so that nobody ever sees half of it.
 * Call `finish` or `discard`.
 */
export class OutputFile {
  private position = 0;

  private constructor(
    readonly path: string,
    private readonly temporary: string,
    private readonly handle: FileHandle,
  ) {}

  static async create(path: string): Promise<OutputFile> {
    const temporary = join(dirname(path), `.${basename(path)}.${randomBytes(4).toString('hex')}.part`);
    try {
      return new OutputFile(path, temporary, await open(temporary, 'wx'));
    } catch (error) {
      throw new Problem(`The file cannot be written (${(error as NodeJS.ErrnoException).code}).`, {
        code: 'file-write',
        file: path,
        remedy: 'Check that the folder exists and may be written to.',
      });
    }
  }

  get bytes(): number {
    return this.position;
  }

  async write(bytes: Uint8Array | string): Promise<void> {
    const data = typeof bytes === 'string' ? Buffer.from(bytes, 'utf8') : bytes;
    await this.writeAt(data, this.position);
    this.position += data.length;
  }

  /** Overwrites bytes already written, for headers whose counts are known last. */
  async writeAt(data: Uint8Array, offset: number): Promise<void> {
    let done = 0;
    while (done < data.length) {
      const { bytesWritten } = await this.handle.write(data, done, data.length - done, offset + done);
      done += bytesWritten;
    }
  }

  async finish(): Promise<void> {
    await this.handle.sync();
    await this.handle.close();
    await rename(this.temporary, this.path);
  }

  async discard(): Promise<void> {
    await this.handle.close().catch(() => undefined);
    await rm(this.temporary, { force: true });
  }
}

/** Runs `fill` on a new output file; on any error nothing is left behind. */
export async function writeFileWhole<T>(path: string, fill: (out: OutputFile) => Promise<T>): Promise<T> {
  const out = await OutputFile.create(path);
  try {
    const result = await fill(out);
    await out.finish();
    return result;
  } catch (error) {
    await out.discard();
    throw error;
  }
}
