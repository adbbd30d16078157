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

/** As `writeAll`, at a place of its own, so that several may be under way. */
export async function writeAllAt(handle: FileHandle, bytes: Uint8Array, at: number): Promise<void> {
  let done = 0;
  while (done < bytes.length) done += (await handle.write(bytes, done, bytes.length - done, at + done)).bytesWritten;
}

const WIDTHS = [12, ATTRIBUTE_BYTES, 1, 4];
const BUFFER_POINTS = 1 << 16;
const columnBuffers = () => WIDTHS.map((b) => new Uint8Array(b * BUFFER_POINTS));

/** The four column files, filled node by node. */
export class ColumnFiles {
  count = 0;
  private handles: FileHandle[] = [];
  private buffers = columnBuffers();
  /** What the disk may still be writing. */
  private others = columnBuffers();
  private pending: Promise<void> = Promise.resolve();
  private filled = 0;

  async open(files: CloudFiles): Promise<void> {
    for (const p of [files.position, files.attributes, files.classes, files.order])
      this.handles.push(await open(p, 'wx'));
  }

  /** Appends the records named by `rows`. */
  async append(records: Int32Array, rows: Uint32Array): Promise<void> {
    for (let k = 0; k < rows.length;) {
      const to = Math.min(rows.length, k + BUFFER_POINTS - this.filled);
      this.copy(records, rows, k, to);
      k = to;
      if (this.filled === BUFFER_POINTS) await this.flush();
    }
    this.count += rows.length;
  }

  private copy(records: Int32Array, rows: Uint32Array, first: number, to: number): void {
    const [p, a, c, o] = this.buffers;
    const position = new Int32Array(p.buffer);
    const attributes = new Int32Array(a.buffer);
    const order = new Int32Array(o.buffer);
    let filled = this.filled;
    for (let k = first; k < to; k++) {
      const from = rows[k] * RECORD_WORDS;
      const at = 3 * filled;
      position[at] = records[from];
      position[at + 1] = records[from + 1];
      position[at + 2] = records[from + 2];
      attributes[at] = records[from + 3];
      attributes[at + 1] = records[from + 4];
      attributes[at + 2] = records[from + 5];
      c[filled] = records[from + 6];
      order[filled] = records[from + 7];
      filled++;
    }
    this.filled = filled;
  }

  /** Hands the buffers to the disk; the others are filled meanwhile. */
  private async flush(): Promise<void> {
    await this.pending;
    const full = this.buffers.map((b, i) => b.subarray(0, WIDTHS[i] * this.filled));
    [this.buffers, this.others] = [this.others, this.buffers];
    this.filled = 0;
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
