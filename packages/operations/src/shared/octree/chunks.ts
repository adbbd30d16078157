import { classWord, POSITION_SCALE_M, putAttributes, RECORD_WORDS } from '@longheron/core/cloud';
import { open, rm, type FileHandle } from 'node:fs/promises';
import { join } from 'node:path';
import { tick, type Watch } from '@longheron/core/shared';
import { cellOf, cellsPerStep } from './chunk';
import { writeAllAt } from './columnFiles';
import { AXIS_BITS } from './morton';
import { type Block, type RecordReader } from './records';
import { type Survey } from './surveyed';

/**
 * Most points of a chunk: few enough that sorting stays in the processor's cache, but not so few that a large cloud
 * would need a thousand files at once.
 */
const chunkPoints = (count: number) => Math.max(150_000, Math.ceil(count / 150));
const COUNT_LEVEL = 7;
const WRITE_BYTES = 1 << 16;
const MAX_WRITES = 8;

export interface Chunks {
  /** In Morton order. */
  list: Array<{ level: number; count: number }>;
  /** Chunk of each cube of the counting level, by its Morton number. */
  ofCube: Int32Array;
}

const CUBES = 1 << COUNT_LEVEL;
/** Seven bits, each followed by two zeros. */
const SPREAD7 = Int32Array.from({ length: CUBES }, (_, v) => {
  let out = 0;
  for (let b = 0; b < COUNT_LEVEL; b++) if (v & (1 << b)) out |= 1 << (3 * b);
  return out;
});

/** Number of the counting cube of a stored position. */
function cubeNumber(x: number, y: number, z: number, per: number): number {
  const shift = AXIS_BITS - COUNT_LEVEL;
  return (
    (SPREAD7[cellOf(x, per) >> shift] << 2) | (SPREAD7[cellOf(y, per) >> shift] << 1) | SPREAD7[cellOf(z, per) >> shift]
  );
}

/** Counts points by cube of the counting level. */
export class CubeCounter {
  readonly counts = new Uint32Array(8 ** COUNT_LEVEL);
  seen = 0;
  private readonly per: number;

  constructor(
    private readonly min: [number, number, number],
    rootM: number,
  ) {
    this.per = cellsPerStep(POSITION_SCALE_M, rootM);
  }

  add(b: Block): void {
    const { counts, per, min } = this;
    const steps = 1 / POSITION_SCALE_M;
    const [x0, y0, z0] = min;
    const { x, y, z } = b;
    for (let i = 0; i < b.count; i++)
      counts[
        cubeNumber(
          Math.floor((x[i] - x0) * steps + 0.5),
          Math.floor((y[i] - y0) * steps + 0.5),
          Math.floor((z[i] - z0) * steps + 0.5),
          per,
        )
      ]++;
    this.seen += b.count;
  }
}

/**
 * Joins cubes to the largest that fit in memory.
 * @param counter counts by cube; one that has seen nothing is filled by a pass of its own.
 */
export async function countChunks(reader: RecordReader, counter: CubeCounter, watch?: Watch): Promise<Chunks> {
  const ofCube = new Int32Array(8 ** COUNT_LEVEL).fill(-1);
  const most = chunkPoints(reader.count);
  if (reader.count <= most) {
    ofCube.fill(0);
    return { list: [{ level: 0, count: reader.count }], ofCube };
  }
  const { counts } = counter;
  if (counter.seen === 0)
    for await (const b of reader.blocks()) {
      tick(watch, 0.2 + (0.1 * counter.seen) / reader.count, 'Counting points by place');
      counter.add(b);
    }
  const list: Chunks['list'] = [];
  const split = (level: number, from: number): void => {
    const width = 8 ** (COUNT_LEVEL - level);
    let sum = 0;
    for (let c = from; c < from + width; c++) sum += counts[c];
    if (sum === 0) return;
    if (sum <= most || level === COUNT_LEVEL) {
      ofCube.fill(list.length, from, from + width);
      list.push({ level, count: sum });
      return;
    }
    for (let k = 0; k < 8; k++) split(level + 1, from + (k * width) / 8);
  };
  split(0, 0);
  return { list, ofCube };
}

export interface Dealt {
  read(chunk: number): Promise<Int32Array>;
  close(): Promise<void>;
}

/** Second pass: writes each point to its chunk. One chunk alone stays in memory. */
export async function deal(
  reader: RecordReader,
  min: [number, number, number],
  rootM: number,
  chunks: Chunks,
  survey: Survey,
  scratch: string,
  watch?: Watch,
): Promise<Dealt> {
  const dealer = new Dealer(min, rootM, chunks, survey);
  if (chunks.list.length > 1) await dealer.open(scratch);
  let row = 0;
  try {
    for await (const b of reader.blocks()) {
      tick(watch, 0.3 + (0.2 * row) / Math.max(1, reader.count), 'Dealing points out');
      for (let i = 0; i < b.count;) {
        i = dealer.deal(b, i, row);
        await dealer.writeFull();
      }
      row += b.count;
    }
    await dealer.finish();
  } catch (error) {
    await dealer.close();
    throw error;
  }
  return dealer;
}

/** Deals points into a buffer for each chunk; full buffers go to disk while others are filled. */
class Dealer implements Dealt {
  private readonly handles: FileHandle[] = [];
  private paths: string[] = [];
  private readonly alone: boolean;
  private readonly held: Int32Array[];
  /** Words in each buffer. */
  private readonly filled: Uint32Array;
  private readonly writtenBytes: Float64Array;
  private readonly spare: Int32Array[] = [];
  private readonly writes = new Set<Promise<void>>();
  private failed: unknown;
  private full = -1;

  constructor(
    private readonly min: [number, number, number],
    private readonly rootM: number,
    private readonly chunks: Chunks,
    private readonly survey: Survey,
  ) {
    const { list } = chunks;
    this.alone = list.length === 1;
    this.held = list.map((c) => new Int32Array(this.alone ? c.count * RECORD_WORDS : WRITE_BYTES / 4));
    this.filled = new Uint32Array(list.length);
    this.writtenBytes = new Float64Array(list.length);
  }

  async open(scratch: string): Promise<void> {
    this.paths = this.chunks.list.map((_, k) => join(scratch, `chunk-${k}`));
    for (const p of this.paths) this.handles.push(await open(p, 'w+'));
  }

  /** Deals points [from, b.count) of a block out, at most until a buffer is full. @returns the first not dealt. */
  deal(b: Block, from: number, row: number): number {
    const { held, filled, alone } = this;
    const { ofCube } = this.chunks;
    const { timeOrigin, timeStepS, colourShift } = this.survey;
    const [x0, y0, z0] = this.min;
    const per = cellsPerStep(POSITION_SCALE_M, this.rootM);
    const steps = 1 / POSITION_SCALE_M;
    const timeSteps = 1 / timeStepS;
    for (let i = from; i < b.count; i++) {
      const x = Math.floor((b.x[i] - x0) * steps + 0.5);
      const y = Math.floor((b.y[i] - y0) * steps + 0.5);
      const z = Math.floor((b.z[i] - z0) * steps + 0.5);
      const k = alone ? 0 : ofCube[cubeNumber(x, y, z, per)];
      const words = held[k];
      const o = filled[k];
      words[o] = x;
      words[o + 1] = y;
      words[o + 2] = z;
      const time = Math.floor((b.time[i] - timeOrigin) * timeSteps + 0.5);
      putAttributes(words, o + 3, b.intensity[i], b.strip[i], time, b.sdH[i], b.echo[i], b.echoes[i]);
      words[o + 6] =
        colourShift === null
          ? b.cls[i]
          : classWord(b.cls[i], b.red[i] >> colourShift, b.green[i] >> colourShift, b.blue[i] >> colourShift);
      words[o + 7] = row + i;
      filled[k] = o + RECORD_WORDS;
      if (!alone && o + RECORD_WORDS === words.length) {
        this.full = k;
        return i + 1;
      }
    }
    return b.count;
  }

  /** Hands the full buffer to the disk; waits only when too many writes are under way. */
  async writeFull(): Promise<void> {
    if (this.full < 0) return;
    this.write(this.full);
    this.full = -1;
    if (this.writes.size >= MAX_WRITES) await Promise.race(this.writes);
    if (this.failed) throw this.failed as Error;
  }

  private write(k: number): void {
    const buffer = this.held[k];
    const bytes = new Uint8Array(buffer.buffer, 0, 4 * this.filled[k]);
    const at = this.writtenBytes[k];
    this.held[k] = this.spare.pop() ?? new Int32Array(WRITE_BYTES / 4);
    this.filled[k] = 0;
    this.writtenBytes[k] += bytes.length;
    const writing: Promise<void> = writeAllAt(this.handles[k], bytes, at)
      .catch((error: unknown) => void (this.failed ??= error))
      .then(() => {
        this.spare.push(buffer);
        this.writes.delete(writing);
      });
    this.writes.add(writing);
  }

  async finish(): Promise<void> {
    if (this.alone) return;
    for (let k = 0; k < this.handles.length; k++) if (this.filled[k]) this.write(k);
    await Promise.all(this.writes);
    if (this.failed) throw this.failed as Error;
    this.held.length = this.spare.length = 0;
  }

  async read(k: number): Promise<Int32Array> {
    if (this.alone) return this.held[0].subarray(0, this.filled[0]);
    const out = new Int32Array(this.chunks.list[k].count * RECORD_WORDS);
    const bytes = new Uint8Array(out.buffer);
    for (let at = 0; at < bytes.length;) {
      const { bytesRead } = await this.handles[k].read(bytes, at, Math.min(1 << 26, bytes.length - at), at);
      if (bytesRead === 0) throw new Error('a chunk is shorter than it was written');
      at += bytesRead;
    }
    await this.handles[k].close();
    await rm(this.paths[k], { force: true });
    return out;
  }

  async close(): Promise<void> {
    await Promise.all(this.writes);
    for (const h of this.handles) await h.close().catch(() => undefined);
    for (const p of this.paths) await rm(p, { force: true });
  }
}
