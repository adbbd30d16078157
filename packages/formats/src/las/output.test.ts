import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openFile, writeFileWhole } from '../bytes';
import { chunkEncoder, chunkTable, compressionRecord } from '../laz';
import { LasFile, POINT_BYTES, writeSelected } from '.';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'laz-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

/** Repeatable numbers in [0, 1) (xorshift). */
function chance(seed: number): () => number {
  let s = seed | 1;
  return () => {
    s ^= s << 13;
    s ^= s >>> 17;
    s ^= s << 5;
    return (s >>> 0) / 2 ** 32;
  };
}

/**
 * Records with everything that a compressor treats apart: several channels, returns, times in several sequences,
 * jumps over the whole range, fields that never change and fields that always do.
 */
function records(format: number, extra: number, count: number, kind: 'line' | 'wild', channels = 3): Uint8Array {
  const step = POINT_BYTES[format] + extra;
  const out = new Uint8Array(step * count);
  const view = new DataView(out.buffer);
  const random = chance(format * 7 + extra + (kind === 'wild' ? 99 : 0));
  const timeAt = format >= 6 ? 22 : format === 1 || format === 3 ? 20 : 0;
  let x = 1000;
  let time = 3.5e8;
  for (let i = 0; i < count; i++) {
    const o = i * step;
    if (kind === 'wild' && random() < 0.7) {
      // bits as they fall, which no real file has
      for (let k = 0; k < step; k++) out[o + k] = Math.floor(random() * 256);
      if (channels === 0 && format >= 6) out[o + 15] = (out[o + 15] & 0xcf) | (2 * i < count ? 0 : 16);
      continue;
    }
    x += Math.floor(random() * 40) - 18;
    const extreme = random() < 0.002;
    view.setInt32(o, extreme ? -2147483648 : x, true);
    view.setInt32(o + 4, extreme ? 2147483647 : 50000 - 2 * x + Math.floor(random() * 9), true);
    view.setInt32(o + 8, Math.floor(300 * Math.sin(i / 50)), true);
    view.setUint16(o + 12, random() < 0.5 ? 100 : Math.floor(random() * 65536), true);
    const n = 1 + Math.floor(random() * (format >= 6 ? 9 : 5));
    const r = 1 + Math.floor(random() * n);
    if (format >= 6) {
      out[o + 14] = r | (n << 4);
      out[o + 15] =
        (Math.floor(channels > 0 ? random() * channels : (2 * i) / count) << 4) |
        (random() < 0.1 ? 4 : 0) |
        (random() < 0.3 ? 64 : 0);
      out[o + 16] = random() < 0.3 ? 2 : 6;
      out[o + 17] = random() < 0.1 ? 9 : 8;
      view.setInt16(o + 18, Math.floor(i / 9) % 2000, true);
      view.setUint16(o + 20, Math.floor(i / 200), true);
    } else {
      out[o + 14] = r | (n << 3) | (random() < 0.5 ? 64 : 0);
      out[o + 15] = random() < 0.3 ? 2 : 6;
      out[o + 16] = Math.floor(random() * 20);
      view.setUint16(o + 18, Math.floor(i / 200), true);
    }
    if (timeAt) {
      // steps of a microsecond, now and then a line flown at another time
      time += random() < 0.4 ? 0 : 1e-6 * (1 + Math.floor(random() * 30));
      view.setFloat64(o + timeAt, random() < 0.05 ? time - 5000 : time, true);
    }
    const colourAt = [0, 0, 20, 28, 0, 0, 0, 30, 30][format];
    if (colourAt)
      for (let k = 0; k < (format === 8 ? 4 : 3); k++)
        view.setUint16(o + colourAt + 2 * k, random() < 0.5 ? 25700 : Math.floor(random() * 65536), true);
    for (let k = 0; k < extra; k++) out[o + POINT_BYTES[format] + k] = k === 0 ? 7 : Math.floor(random() * 4) + k;
  }
  return out;
}

/** A LAS file around these records, written by hand. */
async function plainFile(name: string, format: number, extra: number, body: Uint8Array): Promise<string> {
  const step = POINT_BYTES[format] + extra;
  const head = new Uint8Array(375);
  const view = new DataView(head.buffer);
  head.set(new TextEncoder().encode('LASF'));
  head[24] = 1;
  head[25] = 4;
  view.setUint16(94, 375, true);
  view.setUint32(96, 375, true);
  head[104] = format;
  view.setUint16(105, step, true);
  for (let k = 0; k < 3; k++) view.setFloat64(131 + 8 * k, 0.001, true);
  view.setBigUint64(247, BigInt(body.length / step), true);
  // one extended record after the points
  const extended = new Uint8Array(60 + 12);
  extended.set(new TextEncoder().encode('ours'), 2);
  new DataView(extended.buffer).setBigUint64(20, 12n, true);
  extended.set(new TextEncoder().encode('kept to end.'), 60);
  view.setBigUint64(235, BigInt(375 + body.length), true);
  view.setUint32(243, 1, true);
  const path = join(folder, name);
  await writeFileWhole(path, async (out) => {
    await out.write(head);
    await out.write(body);
    await out.write(extended);
  });
  return path;
}

/** A LAZ file of format 0 in chunks as given, said to hold `points` in all. */
async function writePacked(path: string, body: Uint8Array, chunks: Uint8Array[], points: number): Promise<void> {
  const plain = await readFile(await plainFile('unpacked.las', 0, 0, body.subarray(0, 20)));
  const record = compressionRecord(0, 20);
  new DataView(record.buffer).setUint32(12, 0xffffffff, true);
  const vlr = new Uint8Array(54 + record.length);
  vlr.set(new TextEncoder().encode('laszip encoded'), 2);
  new DataView(vlr.buffer).setUint16(18, 22204, true);
  new DataView(vlr.buffer).setUint16(20, record.length, true);
  vlr.set(record, 54);
  const head = new Uint8Array(plain.subarray(0, 375));
  const view = new DataView(head.buffer);
  const at = 375 + vlr.length;
  view.setUint32(96, at, true);
  view.setUint32(100, 1, true);
  head[104] = 0x80;
  view.setBigUint64(235, 0n, true);
  view.setUint32(243, 0, true);
  view.setBigUint64(247, BigInt(points), true);
  const pointer = new Uint8Array(8);
  new DataView(pointer.buffer).setBigInt64(0, BigInt(at + 8 + chunks.reduce((sum, c) => sum + c.length, 0)), true);
  const table = chunkTable(
    chunks.map((c) => ({ bytes: c.length, points })),
    true,
  );
  await writeFileWhole(path, async (out) => {
    for (const piece of [head, vlr, pointer, ...chunks, table]) await out.write(piece);
  });
}

async function rawRecords(path: string): Promise<Uint8Array> {
  const file = await LasFile.openPath(path);
  const { pointCount, pointBytes } = file.header;
  const out = new Uint8Array(pointCount * pointBytes);
  for await (const b of file.records()) out.set(b.bytes.subarray(0, b.count * pointBytes), b.first * pointBytes);
  await file.close();
  return out;
}

const same = (a: Uint8Array, b: Uint8Array) => Buffer.compare(a, b) === 0;

describe('LAZ as written, read by an independent decoder', () => {
  for (const format of [0, 1, 2, 3, 6, 7, 8])
    for (const kind of ['line', 'wild'] as const)
      for (const extra of [0, 3])
        it(`gives back every byte: format ${format}, ${kind}, ${extra} extra bytes`, async () => {
          const count = kind === 'line' ? 60_011 : 3000;
          // colours and extra bytes: two channels after each other; else three as they fall
          const body = records(format, extra, count, kind, format > 6 || extra ? 0 : 3);
          const path = await plainFile('plain.las', format, extra, body);
          const file = await LasFile.openPath(path);
          const packed = join(folder, 'packed.laz');
          const { written } = await writeSelected(file, packed, new Uint8Array(count).fill(1), undefined, true);
          await file.close();
          expect(written).toBe(count);
          const header = (await LasFile.openPath(packed)).header;
          expect([header.compressed, header.pointFormat, header.pointCount]).toEqual([true, format, count]);
          expect(same(await rawRecords(packed), body)).toBe(true);
          if (kind === 'line') expect((await openFile(packed)).size).toBeLessThan(0.8 * body.length);
        });

  it('keeps extended records in their new place, and can be unpacked into the file it came from', async () => {
    const body = records(6, 2, 5000, 'line', 0);
    const path = await plainFile('from.las', 6, 2, body);
    const all = new Uint8Array(5000).fill(1);
    const first = await LasFile.openPath(path);
    await writeSelected(first, join(folder, 'packed.laz'), all, undefined, true);
    const packed = await LasFile.openPath(join(folder, 'packed.laz'));
    const head = await packed.source.read(0, 375);
    const at = Number(new DataView(head.buffer).getBigUint64(235, true));
    expect(new TextDecoder().decode(await packed.source.read(at + 60, 12))).toBe('kept to end.');
    await writeSelected(packed, join(folder, 'back.las'), all);
    expect(packed.header.vlrs.map((v) => v.recordId)).toEqual([22204]);
    const back = await openFile(join(folder, 'back.las'));
    const origin = await openFile(path);
    expect(back.size).toBe(origin.size);
    expect(same(await back.read(375, back.size - 375), await origin.read(375, origin.size - 375))).toBe(true);
  });

  it('writes a last chunk of one point', async () => {
    for (const format of [3, 8]) {
      const body = records(format, 1, 50_001, 'line', 1);
      const file = await LasFile.openPath(await plainFile('one.las', format, 1, body));
      const packed = join(folder, 'one.laz');
      await writeSelected(file, packed, new Uint8Array(50_001).fill(1), undefined, true);
      expect(same(await rawRecords(packed), body)).toBe(true);
    }
  });

  it('says that channels in turns with colours cannot be compressed', async () => {
    const file = await LasFile.openPath(await plainFile('turns.las', 7, 0, records(7, 0, 9000, 'line')));
    await expect(
      writeSelected(file, join(folder, 'turns.laz'), new Uint8Array(9000).fill(1), undefined, true),
    ).rejects.toMatchObject({ code: 'laz-channels', remedy: 'Write them as LAS.' });
  });

  it('keeps wave packets and where the header says they are', async () => {
    const body = new Uint8Array(59 * 40).map((_, k) => (k % 59 < 12 ? 0 : k));
    const path = await plainFile('wave.las', 9, 0, body);
    const bytes = await readFile(path);
    const view = new DataView(bytes.buffer, bytes.byteOffset);
    view.setUint16(6, 2, true);
    view.setBigUint64(227, BigInt(375 + body.length), true);
    await writeFile(path, bytes);
    const keep = new Uint8Array(40).map((_, i) => (i % 3 === 0 ? 1 : 0));
    await writeSelected(await LasFile.openPath(path), join(folder, 'fewer.las'), keep);
    const fewer = await readFile(join(folder, 'fewer.las'));
    const at = Number(new DataView(fewer.buffer, fewer.byteOffset).getBigUint64(227, true));
    expect(at).toBe(375 + 14 * 59);
    expect(fewer.subarray(at + 60).toString()).toBe('kept to end.');
    expect(same(fewer.subarray(375, 375 + 59), body.subarray(0, 59))).toBe(true);
    expect(same(fewer.subarray(375 + 59, 375 + 118), body.subarray(3 * 59, 4 * 59))).toBe(true);
  });

  it('says that points with wave packets cannot be compressed', async () => {
    const file = await LasFile.openPath(await plainFile('wave.las', 9, 0, new Uint8Array(59 * 2)));
    await expect(
      writeSelected(file, join(folder, 'wave.laz'), new Uint8Array(2).fill(1), undefined, true),
    ).rejects.toMatchObject({ code: 'laz-format', remedy: 'Write them as LAS.' });
  });
  it('reads a chunk of any length in pieces, and refuses more points than bytes can hold', async () => {
    const count = 150_000;
    const body = new Uint8Array(20 * count);
    const view = new DataView(body.buffer);
    for (let i = 0; i < count; i++)
      for (let k = 0; k < 3; k++) view.setInt32(20 * i + 4 * k, 1000 * i + k * (i % 7), true);
    const path = join(folder, 'long.laz');
    const chunk = chunkEncoder(0, 20).encode(body, count);
    await writePacked(path, body, [chunk], count);
    const file = await LasFile.openPath(path);
    const sizes: number[] = [];
    for await (const b of file.records()) sizes.push(b.count);
    await file.close();
    expect(sizes).toEqual([65536, 65536, 18928]);
    expect(same(await rawRecords(path), body)).toBe(true);
    // the same chunk is said to hold a hundred times as many
    await writePacked(path, body, [chunk], 15_000_000);
    await expect(LasFile.openPath(path)).rejects.toMatchObject({ code: 'las-count', place: 'byte 247' });
    await writePacked(path, body, [chunk.subarray(0, 2000)], 900_000);
    await expect(rawRecords(path)).rejects.toMatchObject({
      code: 'laz-chunk',
      message: expect.stringContaining('900000 points in 2000 bytes'),
    });
  });
});
