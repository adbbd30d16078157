import { Problem, type Watch } from '@longheron/core/shared';
import { writeFileWhole } from '../bytes';
import { type PointsToWrite } from '../format';
import { allocatePoints, decimalsOf, decodeRecords, hasColour, hasTime } from '../las';

/** What is written of a point; intensity always, colour and time where the cloud has them. */
const PLAIN: [string, number][] = [
  ['float x', 4],
  ['float y', 4],
  ['float z', 4],
  ['ushort intensity', 2],
  ['uchar classification', 1],
  ['ushort point_source_id', 2],
];

/**
 * Writes chosen points as PLY. Binary coordinates are 32-bit numbers about a shift that stands in the header
 * ("comment shift E N H"), whole metres, so that nothing is rounded away; text has them in full.
 * @returns points written, and what PLY does not carry.
 */
export async function writePly(
  { file, keep, crs = 'none' }: PointsToWrite,
  path: string,
  form: 'binary' | 'text',
  watch?: Watch,
): Promise<{ written: number; lost: string[] }> {
  const { header } = file;
  const colour = hasColour(header.pointFormat);
  const timed = hasTime(header.pointFormat);
  const properties = [
    ...PLAIN,
    ...(colour
      ? ([
          ['uchar red', 1],
          ['uchar green', 1],
          ['uchar blue', 1],
        ] as [string, number][])
      : []),
    ...(timed ? ([['double gps_time', 8]] as [string, number][]) : []),
  ];
  const shift = form === 'binary' ? [0, 1, 2].map((k) => Math.round((header.min[k] + header.max[k]) / 2)) : [0, 0, 0];
  const decimals = header.scale.map(decimalsOf);
  let written = 0;
  for (let i = 0; i < header.pointCount; i++) written += keep[i];
  if (written === 0)
    throw new Problem('No point is left to write.', {
      code: 'las-empty',
      file: file.source.name,
      remedy: 'Choose more classes or strips.',
    });
  const names = form === 'text' ? properties.map(([p]) => p.replace(/^float/, 'double')) : properties.map(([p]) => p);
  await writeFileWhole(path, async (out) => {
    await out.write(
      [
        'ply',
        `format ${form === 'text' ? 'ascii' : 'binary_little_endian'} 1.0`,
        `comment crs: ${crs}`,
        ...(form === 'binary' ? [`comment shift: ${shift.join(' ')}`] : []),
        `element vertex ${written}`,
        ...names.map((p) => `property ${p}`),
        'end_header\n',
      ].join('\n'),
    );
    const step = properties.reduce((sum, [, n]) => sum + n, 0);
    let block = allocatePoints(1 << 16, colour);
    for await (const batch of file.records(watch)) {
      if (batch.count > block.count) block = allocatePoints(batch.count, colour);
      decodeRecords(header, batch.bytes, batch.count, block, 0);
      const bytes = new Uint8Array(form === 'binary' ? step * batch.count : 0);
      const view = new DataView(bytes.buffer);
      const lines: string[] = [];
      let o = 0;
      for (let i = 0; i < batch.count; i++) {
        if (!keep[batch.first + i]) continue;
        const at = [block.x, block.y, block.z].map((a, k) => a[i] * header.scale[k] + header.offset[k]);
        const rgb = colour ? [block.red![i] >> 8, block.green![i] >> 8, block.blue![i] >> 8] : [];
        if (form === 'text') {
          const rest = [block.intensity[i], block.classification[i], block.pointSourceId[i], ...rgb];
          lines.push(
            `${at.map((v, k) => v.toFixed(decimals[k])).join(' ')} ${rest.join(' ')}${timed ? ` ${block.gpsTime[i]}` : ''}\n`,
          );
          continue;
        }
        at.forEach((v, k) => view.setFloat32(o + 4 * k, v - shift[k], true));
        view.setUint16(o + 12, block.intensity[i], true);
        bytes[o + 14] = block.classification[i];
        view.setUint16(o + 15, block.pointSourceId[i], true);
        rgb.forEach((v, k) => (bytes[o + 17 + k] = v));
        if (timed) view.setFloat64(o + step - 8, block.gpsTime[i], true);
        o += step;
      }
      await out.write(form === 'text' ? lines.join('') : bytes.subarray(0, o));
    }
  });
  return {
    written,
    lost: [
      'echoes',
      'withheld and other flags',
      'scan angle',
      'channel',
      'user data',
      ...file.extraDimensions().map((d) => d.name),
    ],
  };
}
