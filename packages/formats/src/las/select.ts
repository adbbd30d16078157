import { Problem, type Watch } from '@longheron/core/shared';
import { writeFileWhole } from '../bytes';
import { canCompress } from '../laz';
import { copyExtended, headFor, RecordOutput } from './output';
import { type LasFile } from './reader';

export interface SelectedPoints {
  written: number;
  left: number;
}

/**
 * Writes some of a cloud's points, byte for byte, with the header's counts and extent made to match.
 * @param keep 1 for each point to write, in file order.
 * @param compress as LAZ, for point formats that `canCompress`.
 */
export async function writeSelected(
  file: LasFile,
  path: string,
  keep: Uint8Array,
  watch?: Watch,
  compress = false,
): Promise<SelectedPoints> {
  const { header, source } = file;
  if (compress && !canCompress(header.pointFormat))
    throw new Problem(`Points of format ${header.pointFormat} cannot be written compressed.`, {
      code: 'laz-format',
      file: source.name,
      place: 'byte 104',
      remedy: 'Write them as LAS.',
    });
  const { pointBytes: step } = header;
  const modern = header.pointFormat >= 6;
  let written = 0;
  const byReturn = new Float64Array(15);
  const min = [Infinity, Infinity, Infinity];
  const max = [-Infinity, -Infinity, -Infinity];
  await writeFileWhole(path, async (out) => {
    const head = headFor(await source.read(0, header.pointOffset), header, compress);
    await out.write(head);
    const points = await RecordOutput.begin(out, header.pointFormat, step, compress);
    for await (const batch of file.records(watch)) {
      const view = new DataView(batch.bytes.buffer, batch.bytes.byteOffset, batch.bytes.byteLength);
      // kept records move together to the front of the batch, run by run
      let to = 0;
      let runFrom = -1;
      for (let i = 0; i <= batch.count; i++) {
        const wanted = i < batch.count && keep[batch.first + i] === 1;
        const o = i * step;
        if (!wanted) {
          if (runFrom >= 0) {
            if (to !== runFrom) batch.bytes.copyWithin(to, runFrom, o);
            to += o - runFrom;
          }
          runFrom = -1;
          continue;
        }
        if (runFrom < 0) runFrom = o;
        for (let k = 0; k < 3; k++) {
          const v = view.getInt32(o + 4 * k, true);
          if (v < min[k]) min[k] = v;
          if (v > max[k]) max[k] = v;
        }
        const r = batch.bytes[o + 14] & (modern ? 15 : 7);
        if (r >= 1) byReturn[r - 1]++;
        written++;
      }
      if (to) await points.append(batch.bytes, to / step);
    }
    if (written === 0)
      throw new Problem('No point is left to write.', {
        code: 'las-empty',
        file: source.name,
        remedy: 'Choose more classes or strips.',
      });
    await points.finish();
    await copyExtended(source, header, out, head);
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
  const legacy = header.pointFormat < 6 && count < 2 ** 32;
  view.setUint32(107, legacy ? count : 0, true);
  for (let k = 0; k < 5; k++) view.setUint32(111 + 4 * k, legacy ? byReturn[k] : 0, true);
  for (let k = 0; k < 3; k++) {
    view.setFloat64(179 + 16 * k, max[k] * header.scale[k] + header.offset[k], true);
    view.setFloat64(187 + 16 * k, min[k] * header.scale[k] + header.offset[k], true);
  }
  if (header.version[1] >= 4) {
    view.setBigUint64(247, BigInt(count), true);
    for (let k = 0; k < 15; k++) view.setBigUint64(255 + 8 * k, BigInt(byReturn[k]), true);
  }
}
