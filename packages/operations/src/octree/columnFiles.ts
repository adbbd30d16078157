import { open, rm, type FileHandle } from 'node:fs/promises';
import { RECORD_WORDS } from './chunk';

/** Metres per integer step of stored positions. */
export const POSITION_SCALE_M = 0.001;
export const ATTRIBUTE_BYTES = 12;

/** Files the columns are written to, docs/formats/cloud-store.md. */
export interface CloudFiles {
  position: string;
  attributes: string;
  classes: string;
  order: string;
}

export async function writeAll(handle: FileHandle, bytes: Uint8Array): Promise<void> {
  let done = 0;
  while (done < bytes.length) done += (await handle.write(bytes, done, bytes.length - done)).bytesWritten;
}

/** The four column files, filled node by node. */
export class ColumnFiles {
  count = 0;
  private handles: FileHandle[] = [];
  private readonly buffers = [12, ATTRIBUTE_BYTES, 1, 4].map((b) => new Uint8Array(b * 65536));
  private filled = 0;

  async open(files: CloudFiles): Promise<void> {
    for (const p of [files.position, files.attributes, files.classes, files.order])
      this.handles.push(await open(p, 'wx'));
  }

  /** Appends the records named by `rows`. */
  async append(records: Int32Array, rows: Uint32Array): Promise<void> {
    const [p, a, c, o] = this.buffers;
    const position = new Int32Array(p.buffer);
    const attributes = new Int32Array(a.buffer);
    const order = new Int32Array(o.buffer);
    for (let k = 0; k < rows.length; k++) {
      const from = rows[k] * RECORD_WORDS;
      const at = 3 * this.filled;
      position[at] = records[from];
      position[at + 1] = records[from + 1];
      position[at + 2] = records[from + 2];
      attributes[at] = records[from + 3];
      attributes[at + 1] = records[from + 4];
      attributes[at + 2] = records[from + 5];
      c[this.filled] = records[from + 6];
      order[this.filled] = records[from + 7];
      if (++this.filled === 65536) await this.flush();
    }
    this.count += rows.length;
  }

  private async flush(): Promise<void> {
    const widths = [12, ATTRIBUTE_BYTES, 1, 4];
    for (let i = 0; i < 4; i++) await writeAll(this.handles[i], this.buffers[i].subarray(0, widths[i] * this.filled));
    this.filled = 0;
  }

  async finish(): Promise<void> {
    await this.flush();
    for (const h of this.handles) {
      await h.sync();
      await h.close();
    }
    this.handles = [];
  }

  async discard(files: CloudFiles): Promise<void> {
    for (const h of this.handles) await h.close().catch(() => undefined);
    for (const p of Object.values(files)) await rm(p as string, { force: true });
  }
}
