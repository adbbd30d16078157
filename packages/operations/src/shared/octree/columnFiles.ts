import { open, rm, type FileHandle } from 'node:fs/promises';
import { ColumnBuffers } from '@longheron/core/cloud';

/** Files the columns are written to, docs/formats/cloud-store.md. */
export interface CloudFiles {
  position: string;
  attributes: string;
  classes: string;
  order: string;
  /** Written only where the cloud has colours. */
  colour: string;
}

export async function writeAll(handle: FileHandle, bytes: Uint8Array): Promise<void> {
  let done = 0;
  while (done < bytes.length) done += (await handle.write(bytes, done, bytes.length - done)).bytesWritten;
}

/** As `writeAll`, at a place of its own, so that several may be under way. */
export async function writeAllAt(handle: FileHandle, bytes: Uint8Array, at: number): Promise<void> {
  let done = 0;
  while (done < bytes.length) done += (await handle.write(bytes, done, bytes.length - done, at + done)).bytesWritten;
}

const BUFFER_POINTS = 1 << 16;

/** The column files, filled node by node. */
export class ColumnFiles {
  count = 0;
  private handles: FileHandle[] = [];
  private buffers: ColumnBuffers;
  /** What the disk may still be writing. */
  private others: ColumnBuffers;
  private pending: Promise<void> = Promise.resolve();

  constructor(private readonly coloured: boolean) {
    this.buffers = new ColumnBuffers(BUFFER_POINTS, coloured);
    this.others = new ColumnBuffers(BUFFER_POINTS, coloured);
  }

  async open(files: CloudFiles): Promise<void> {
    const { position, attributes, classes, order, colour } = files;
    for (const p of [position, attributes, classes, order, ...(this.coloured ? [colour] : [])])
      this.handles.push(await open(p, 'wx'));
  }

  /** Appends the records named by `rows`. */
  async append(records: Int32Array, rows: Uint32Array): Promise<void> {
    for (let k = 0; k < rows.length;) {
      const to = Math.min(rows.length, k + BUFFER_POINTS - this.buffers.filled);
      this.buffers.add(records, rows, k, to);
      k = to;
      if (this.buffers.filled === BUFFER_POINTS) await this.flush();
    }
    this.count += rows.length;
  }

  /** Hands the buffers to the disk; the others are filled meanwhile. */
  private async flush(): Promise<void> {
    await this.pending;
    const full = this.buffers.full();
    [this.buffers, this.others] = [this.others, this.buffers];
    this.buffers.filled = 0;
    const { handles } = this;
    this.pending = Promise.all(full.map((bytes, i) => writeAll(handles[i], bytes))).then(() => undefined);
    this.pending.catch(() => undefined);
  }

  async finish(): Promise<void> {
    await this.flush();
    await this.pending;
    for (const h of this.handles) {
      await h.sync();
      await h.close();
    }
    this.handles = [];
  }

  async discard(files: CloudFiles): Promise<void> {
    await this.pending.catch(() => undefined);
    for (const h of this.handles) await h.close().catch(() => undefined);
    for (const p of Object.values(files)) await rm(p as string, { force: true });
  }
}
