import { Problem, type Watch } from '@longheron/core/shared';
import { writeFileWhole } from '../bytes';
import { PointCount, patchHead, refuseCompressed } from './counts';
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
  refuseCompressed(header, source.name, compress);
  const { pointBytes: step, pointFormat } = header;
  const count = new PointCount(header);
  await writeFileWhole(path, async (out) => {
    const head = headFor(await source.read(0, header.pointOffset), header, compress);
    await out.write(head);
    const points = await RecordOutput.begin(out, pointFormat, step, compress);
    for await (const batch of file.records(watch)) {
      const { bytes } = batch;
      // kept records move together to the front of the batch, run by run
      let to = 0;
      let runFrom = -1;
      for (let i = 0; i <= batch.count; i++) {
        const o = i * step;
        if (i < batch.count && keep[batch.first + i]) {
          if (runFrom < 0) runFrom = o;
          count.add(bytes, o, pointFormat);
          continue;
        }
        if (runFrom < 0) continue;
        if (to !== runFrom) bytes.copyWithin(to, runFrom, o);
        to += o - runFrom;
        runFrom = -1;
      }
      if (to) await points.append(bytes, to / step);
    }
    if (count.count === 0)
      throw new Problem('No point is left to write.', {
        code: 'las-empty',
        file: source.name,
        remedy: 'Choose more classes or strips.',
      });
    await points.finish();
    await copyExtended(source, header, out, head);
    patchHead(head, header, count);
    await out.writeAt(head, 0);
  });
  return { written: count.count, left: header.pointCount - count.count };
}
