import { Problem, type Watch } from '@longheron/core/shared';
import { writeFileWhole } from '../bytes';
import { PointCount, patchHead } from './counts';
import { copyExtended, headFor, RecordOutput } from './output';
import { type LasFile } from './reader';

/**
 * Writes a cloud with points moved by metres of their own (in the units of the file); scale and offset stay, so points
 * that are not moved keep their bytes. The extent in the header follows.
 * @param by moves of each row of the file, x, y and z.
 */
export async function writeMoved(
  file: LasFile,
  path: string,
  by: readonly [ArrayLike<number>, ArrayLike<number>, ArrayLike<number>],
  watch?: Watch,
): Promise<void> {
  const { header, source } = file;
  const { pointBytes: step, pointFormat, scale } = header;
  const count = new PointCount(header);
  await writeFileWhole(path, async (out) => {
    const head = headFor(await source.read(0, header.pointOffset), header, false);
    await out.write(head);
    const points = await RecordOutput.begin(out, pointFormat, step, false);
    for await (const { bytes, count: n, first } of file.records(watch)) {
      const view = new DataView(bytes.buffer, bytes.byteOffset, n * step);
      for (let i = 0, o = 0; i < n; i++, o += step) {
        for (let k = 0; k < 3; k++) {
          const move = by[k][first + i];
          if (move === 0) continue;
          const v = view.getInt32(o + 4 * k, true) + Math.round(move / scale[k]);
          if (!(v >= -2147483648 && v <= 2147483647))
            throw new Problem('A point does not fit the scale of its file any more.', {
              code: 'las-range',
              file: source.name,
              place: `point ${first + i + 1}`,
              remedy: 'Bring the cloud into the system of the project first, which gives it a scale of its own.',
            });
          view.setInt32(o + 4 * k, v, true);
        }
        count.add(bytes, o, pointFormat);
      }
      await points.append(bytes, n);
    }
    await points.finish();
    await copyExtended(source, header, out, head);
    patchHead(head, header, count);
    await out.writeAt(head, 0);
  });
}
