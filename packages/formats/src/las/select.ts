import { Problem, type Watch } from '@longheron/core/shared';
import { writeFileWhole } from '../bytes';
import { type LasFile } from './reader';

export interface SelectedPoints {
  written: number;
  left: number;
}

/**
 * Writes some of a cloud's points, byte for byte, with the header's counts and extent made to match. Compressed
 * input is written uncompressed; extended variable length records after the points are not carried over.
 * @param keep 1 for each point to write, in file order.
 */
export async function writeSelected(
  file: LasFile,
  path: string,
  keep: Uint8Array,
  watch?: Watch,
): Promise<SelectedPoints> {
  const { header, source } = file;
  const { pointBytes: step } = header;
  const modern = header.pointFormat >= 6;
  let written = 0;
  const byReturn = new Float64Array(15);
  const min = [Infinity, Infinity, Infinity];
  const max = [-Infinity, -Infinity, -Infinity];
  await writeFileWhole(path, async (out) => {
    const head = await source.read(0, header.pointOffset);
    await out.write(head);
    for await (const batch of file.records(watch)) {
      const view = new DataView(batch.bytes.buffer, batch.bytes.byteOffset, batch.bytes.byteLength);
      const kept = new Uint8Array(batch.count * step);
      let to = 0;
      for (let i = 0; i < batch.count; i++) {
        if (!keep[batch.first + i]) continue;
        const o = i * step;
        kept.set(batch.bytes.subarray(o, o + step), to);
        to += step;
        for (let k = 0; k < 3; k++) {
          const v = view.getInt32(o + 4 * k, true);
          if (v < min[k]) min[k] = v;
          if (v > max[k]) max[k] = v;
        }
        const r = batch.bytes[o + 14] & (modern ? 15 : 7);
        if (r >= 1) byReturn[r - 1]++;
        written++;
      }
      if (to) await out.write(kept.subarray(0, to));
    }
    if (written === 0)
      throw new Problem('No point is left to write.', {
        code: 'las-empty',
        file: source.name,
        remedy: 'Choose more classes or strips.',
      });
    patchHead(head, header, written, byReturn, min, max);
    await out.writeAt(head, 0);
  });
  return { written, left: header.pointCount - written };
}

function patchHead(
  head: Uint8Array,
  header: LasFile['header'],
  count: number,
  byReturn: Float64Array,
  min: number[],
  max: number[],
): void {
  const view = new DataView(head.buffer, head.byteOffset, head.byteLength);
  head[104] = header.pointFormat;
  const legacy = header.pointFormat < 6 && count < 2 ** 32;
  view.setUint32(107, legacy ? count : 0, true);
  for (let k = 0; k < 5; k++) view.setUint32(111 + 4 * k, legacy ? byReturn[k] : 0, true);
  for (let k = 0; k < 3; k++) {
    view.setFloat64(179 + 16 * k, max[k] * header.scale[k] + header.offset[k], true);
    view.setFloat64(187 + 16 * k, min[k] * header.scale[k] + header.offset[k], true);
  }
  if (header.version[1] >= 4) {
    view.setBigUint64(235, 0n, true);
    view.setUint32(243, 0, true);
    view.setBigUint64(247, BigInt(count), true);
    for (let k = 0; k < 15; k++) view.setBigUint64(255 + 8 * k, BigInt(byReturn[k]), true);
  }
  let at = header.headerBytes;
  for (let i = 0; header.compressed && i < header.vlrCount; i++) {
    if (view.getUint16(at + 18, true) === 22204) head.fill(0, at + 2, at + 20);
    at += 54 + view.getUint16(at + 20, true);
  }
}
