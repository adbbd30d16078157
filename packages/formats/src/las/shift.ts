import { type Watch, tick } from '@longheron/core/shared';
import { writeFileWhole } from '../bytes';
import { type LasFile } from './reader';

const COPY_BYTES = 1 << 22;

/**
 * Writes the same file with all heights moved: the offset of the heights and the extent in the header change, every
 * other byte stays as it was, so the move can be undone exactly.
 * @param byZ in the units of the file.
 */
export async function writeShifted(file: LasFile, path: string, byZ: number, watch?: Watch): Promise<void> {
  const { source, header } = file;
  await writeFileWhole(path, async (out) => {
    for (let at = 0; at < source.size; at += COPY_BYTES) {
      tick(watch, at / source.size, 'Writing');
      const bytes = await source.read(at, Math.min(COPY_BYTES, source.size - at));
      if (at === 0) {
        const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
        view.setFloat64(171, header.offset[2] + byZ, true);
        view.setFloat64(211, header.max[2] + byZ, true);
        view.setFloat64(219, header.min[2] + byZ, true);
      }
      await out.write(bytes);
    }
  });
}
