import { open, rm, type FileHandle } from 'node:fs/promises';
import { join } from 'node:path';
import { tick, type Watch } from '@longheron/core/shared';
import { cellOf, cellsPerStep, RECORD_WORDS } from './chunk';
import { POSITION_SCALE_M, writeAll } from './columnFiles';
import { AXIS_BITS } from './morton';
import { type RecordReader } from './records';
import { type Survey } from './survey';

/** A chunk is sorted in memory. */
const CHUNK_POINTS = 1_500_000;
const COUNT_LEVEL = 7;
const WRITE_BYTES = 1 << 19;

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

/** Second pass: points in each cube; cubes are joined to the largest that fit in memory. */
export async function countChunks(
  reader: RecordReader,
  min: [number, number, number],
  rootM: number,
  watch?: Watch,
): Promise<Chunks> {
  const ofCube = new Int32Array(8 ** COUNT_LEVEL).fill(-1);
  if (reader.count <= CHUNK_POINTS) {
    ofCube.fill(0);
    return { list: [{ level: 0, count: reader.count }], ofCube };
  }
  const counts = new Uint32Array(8 ** COUNT_LEVEL);
  const per = cellsPerStep(POSITION_SCALE_M, rootM);
  const steps = 1 / POSITION_SCALE_M;
  const [x0, y0, z0] = min;
  let seen = 0;
  for await (const b of reader.blocks()) {
    tick(watch, 0.2 + (0.1 * seen) / reader.count, 'Counting points by place');
    for (let i = 0; i < b.count; i++)
      counts[
        cubeNumber(
          Math.round((b.x[i] - x0) * steps),
          Math.round((b.y[i] - y0) * steps),
          Math.round((b.z[i] - z0) * steps),
          per,
        )
      ]++;
    seen += b.count;
  }
  const list: Chunks['list'] = [];
  const split = (level: number, from: number): void => {
    const width = 8 ** (COUNT_LEVEL - level);
    let sum = 0;
    for (let c = from; c < from + width; c++) sum += counts[c];
    if (sum === 0) return;
    if (sum <= CHUNK_POINTS || level === COUNT_LEVEL) {
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

/** Third pass: writes each point to its chunk. One chunk alone stays in memory. */
export async function deal(
  reader: RecordReader,
  min: [number, number, number],
  rootM: number,
  chunks: Chunks,
  survey: Survey,
  scratch: string,
  watch?: Watch,
): Promise<Dealt> {
  const alone = chunks.list.length === 1;
  const handles: FileHandle[] = [];
  const paths = chunks.list.map((_, k) => join(scratch, `chunk-${k}`));
  const held = chunks.list.map((c) => new Int32Array(alone ? c.count * RECORD_WORDS : WRITE_BYTES / 4));
  const filled = new Uint32Array(chunks.list.length);
  const close = async () => {
    for (const h of handles) await h.close().catch(() => undefined);
    for (const p of paths) await rm(p, { force: true });
  };
  try {
    if (!alone) for (const p of paths) handles.push(await open(p, 'w+'));
    const per = cellsPerStep(POSITION_SCALE_M, rootM);
    const steps = 1 / POSITION_SCALE_M;
    const timeSteps = 1 / survey.timeStepS;
    let row = 0;
    const [x0, y0, z0] = min;
    for await (const b of reader.blocks()) {
      tick(watch, 0.3 + (0.2 * row) / Math.max(1, reader.count), 'Dealing points out');
      for (let i = 0; i < b.count; i++) {
        const x = Math.round((b.x[i] - x0) * steps);
        const y = Math.round((b.y[i] - y0) * steps);
        const z = Math.round((b.z[i] - z0) * steps);
        const k = alone ? 0 : chunks.ofCube[cubeNumber(x, y, z, per)];
        const words = held[k];
        const o = filled[k];
        words[o] = x;
        words[o + 1] = y;
        words[o + 2] = z;
        words[o + 3] = b.intensity[i] | (b.strip[i] << 16);
        words[o + 4] = Math.round((b.time[i] - survey.timeOrigin) * timeSteps);
        words[o + 5] = Math.min(65535, Math.round(b.sdH[i] * 10000)) | (b.echo[i] << 16) | (b.echoes[i] << 24);
        words[o + 6] = b.cls[i];
        words[o + 7] = row + i;
        filled[k] = o + RECORD_WORDS;
        if (!alone && filled[k] === words.length) {
          await writeAll(handles[k], new Uint8Array(words.buffer));
          filled[k] = 0;
        }
      }
      row += b.count;
    }
    if (!alone)
      for (let k = 0; k < handles.length; k++)
        if (filled[k]) await writeAll(handles[k], new Uint8Array(held[k].buffer, 0, filled[k] * 4));
  } catch (error) {
    await close();
    throw error;
  }
  return {
    async read(k) {
      if (alone) return held[0].subarray(0, filled[0]);
      const out = new Int32Array(chunks.list[k].count * RECORD_WORDS);
      const bytes = new Uint8Array(out.buffer);
      for (let at = 0; at < bytes.length;) {
        const { bytesRead } = await handles[k].read(bytes, at, Math.min(1 << 26, bytes.length - at), at);
        if (bytesRead === 0) throw new Error('a chunk is shorter than it was written');
        at += bytesRead;
      }
      await handles[k].close();
      await rm(paths[k], { force: true });
      return out;
    },
    close,
  };
}
