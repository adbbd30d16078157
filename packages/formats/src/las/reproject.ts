import { type SystemDefinition } from '@longheron/core/frames';
import { Problem, type Watch } from '@longheron/core/shared';
import { writeFileWhole } from '../bytes';
import { PointCount, patchHead } from './counts';
import { type LasHeader } from './header';
import { copyExtended, headFor, RecordOutput } from './output';
import { type LasFile } from './reader';
import { isSystemRecord, markSystem, systemRecords } from './system';

/** Carries x, y, z in units of the file to those of another system, written to `out`. */
export type CarryPoint = (x: number, y: number, z: number, out: Float64Array) => void;

/** Where the direction of a wave packet stands in a record: three floats, lengths a picosecond. */
const WAVE_DIRECTION_AT: Record<number, number> = { 4: 45, 5: 51, 9: 47, 10: 55 };
/** Directions are carried over this long a way, picoseconds: some metres. */
const WAY_PS = 20_000;

/**
 * Writes a cloud in another coordinate system: coordinates (and directions of wave packets) are carried, the record of
 * the system and the header's scale, offset and extent follow, every other byte stays.
 * @param scale of the new coordinates, in units of the new system.
 * @throws Problem naming the point when it has no place in the new system, or does not fit the scale.
 */
export async function writeReprojected(
  file: LasFile,
  path: string,
  to: SystemDefinition,
  scale: [number, number, number],
  carry: CarryPoint,
  watch?: Watch,
): Promise<{ written: number }> {
  const { header, source } = file;
  const { pointBytes: step, pointFormat } = header;
  const offset = offsetFor(header, carry, source.name);
  const made: LasHeader = { ...header, scale, offset };
  const count = new PointCount(made);
  const at = new Float64Array(3);
  const ahead = new Float64Array(3);
  const directionAt = WAVE_DIRECTION_AT[pointFormat];
  await writeFileWhole(path, async (out) => {
    const head = headFor(await source.read(0, header.pointOffset), header, false, {
      without: isSystemRecord,
      add: systemRecords(to, pointFormat),
    });
    markSystem(head, pointFormat);
    const headView = new DataView(head.buffer, head.byteOffset, head.byteLength);
    for (let k = 0; k < 3; k++) {
      headView.setFloat64(131 + 8 * k, scale[k], true);
      headView.setFloat64(155 + 8 * k, offset[k], true);
    }
    await out.write(head);
    const points = await RecordOutput.begin(out, pointFormat, step, false);
    for await (const { bytes, count: n, first } of file.records(watch)) {
      const view = new DataView(bytes.buffer, bytes.byteOffset, n * step);
      for (let i = 0, o = 0; i < n; i++, o += step) {
        const x = view.getInt32(o, true) * header.scale[0] + header.offset[0];
        const y = view.getInt32(o + 4, true) * header.scale[1] + header.offset[1];
        const z = view.getInt32(o + 8, true) * header.scale[2] + header.offset[2];
        carry(x, y, z, at);
        for (let k = 0; k < 3; k++) {
          const v = Math.round((at[k] - offset[k]) / scale[k]);
          // not a number fails too
          if (!(v >= -2147483648 && v <= 2147483647)) throw misplaced(source.name, first + i);
          view.setInt32(o + 4 * k, v, true);
        }
        if (directionAt) {
          const d = [0, 1, 2].map((k) => view.getFloat32(o + directionAt + 4 * k, true));
          carry(x + WAY_PS * d[0], y + WAY_PS * d[1], z + WAY_PS * d[2], ahead);
          for (let k = 0; k < 3; k++) view.setFloat32(o + directionAt + 4 * k, (ahead[k] - at[k]) / WAY_PS, true);
        }
        count.add(bytes, o, pointFormat);
      }
      await points.append(bytes, n);
    }
    await points.finish();
    await copyExtended(source, header, out, head);
    patchHead(head, made, count);
    await out.writeAt(head, 0);
  });
  return { written: count.count };
}

const misplaced = (file: string, point: number) =>
  new Problem('A point has no place in the new system.', {
    code: 'reproject-range',
    file,
    place: `point ${point + 1}`,
    remedy: 'Check which system the cloud is in; take far noise points out first.',
  });

/** Whole thousands of units near the middle of the cloud. */
function offsetFor(header: LasHeader, carry: CarryPoint, file: string): [number, number, number] {
  const at = new Float64Array(3);
  const middle = header.min.map((v, k) => (v + header.max[k]) / 2);
  carry(middle[0], middle[1], middle[2], at);
  if (!at.every(Number.isFinite))
    throw new Problem('The middle of the cloud has no place in the new system.', {
      code: 'reproject-range',
      file,
      place: 'extent in the header',
      remedy: 'Check which system the cloud is in.',
    });
  return [Math.round(at[0] / 1000) * 1000, Math.round(at[1] / 1000) * 1000, 0];
}
