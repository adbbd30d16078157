import { Problem, type Watch } from '@longheron/core/shared';
import { writeFileWhole } from '../bytes';
import { parseSystem } from '../crs';
import { type PointsToWrite } from '../format';
import { allocatePoints, decimalsOf, decodeExtra, decodeRecords, hasColour, hasTime } from '../las';

/** Abbreviations of units in the names of columns, by metres. */
const UNITS: [number, string][] = [
  [1, 'm'],
  [0.3048, 'ft'],
  [1200 / 3937, 'usft'],
];

function unitOf(metres: number): string {
  return UNITS.find(([m]) => Math.abs(m - metres) < 1e-9)?.[1] ?? 'unit';
}

/**
 * Writes chosen points as text with named columns, every attribute in one; the coordinate system stands in front as a
 * comment. Where the system asks for depths, the third column has them, positive down.
 */
export async function writeXyz(
  { file, keep, crs }: PointsToWrite,
  path: string,
  watch?: Watch,
): Promise<{ written: number; lost: string[] }> {
  const definition = crs ? parseSystem(crs).definition : undefined;
  const unit = unitOf(definition?.metresPerUnit ?? 1);
  const [third, sign] = definition?.depths ? ['depth', -1] : ['height', 1];
  const { header } = file;
  const colour = hasColour(header.pointFormat);
  const timed = hasTime(header.pointFormat);
  const extra = file.extraDimensions();
  const decimals = header.scale.map(decimalsOf);
  let written = 0;
  await writeFileWhole(path, async (out) => {
    await out.write(
      `# crs: ${crs ?? 'none'}\n${[
        ...['easting', 'northing', third].map((n) => `${n}_${unit}`),
        'intensity',
        'classification',
        'return_number',
        'number_of_returns',
        'point_source_id',
        ...(timed ? ['gps_time'] : []),
        ...(colour ? ['red', 'green', 'blue'] : []),
        ...extra.map((d) => d.name),
      ].join(',')}\n`,
    );
    let block = allocatePoints(1 << 16, colour);
    for await (const batch of file.records(watch)) {
      if (batch.count > block.count) block = allocatePoints(batch.count, colour);
      decodeRecords(header, batch.bytes, batch.count, block, 0);
      const beside = extra.map((d) => {
        const values = new Float32Array(batch.count);
        decodeExtra(header, batch.bytes, batch.count, d, values, 0);
        return values;
      });
      const lines: string[] = [];
      for (let i = 0; i < batch.count; i++) {
        if (!keep[batch.first + i]) continue;
        written++;
        const cells = [
          (block.x[i] * header.scale[0] + header.offset[0]).toFixed(decimals[0]),
          (block.y[i] * header.scale[1] + header.offset[1]).toFixed(decimals[1]),
          (sign * (block.z[i] * header.scale[2] + header.offset[2])).toFixed(decimals[2]),
          block.intensity[i],
          block.classification[i],
          block.returnNumber[i],
          block.returnCount[i],
          block.pointSourceId[i],
        ];
        if (timed) cells.push(block.gpsTime[i]);
        if (colour) cells.push(block.red![i], block.green![i], block.blue![i]);
        for (const [k, values] of beside.entries()) cells.push(+values[i].toFixed(decimalsOf(extra[k].scale)));
        lines.push(`${cells.join(',')}\n`);
      }
      await out.write(lines.join(''));
    }
    if (written === 0)
      throw new Problem('No point is left to write.', {
        code: 'las-empty',
        file: file.source.name,
        remedy: 'Choose more classes or strips.',
      });
  });
  return { written, lost: ['flags', 'scan angle', 'channel', 'user data'] };
}
