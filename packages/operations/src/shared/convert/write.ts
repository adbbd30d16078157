import { parseSystem } from '@longheron/formats/crs';
import { type Watch } from '@longheron/core/shared';
import { writeSelected, type LasFile } from '@longheron/formats/las';
import { writePly } from '@longheron/formats/ply';
import { writeXyz } from '@longheron/formats/xyz';

/** Formats that points are written in. */
export type PointFormat = 'las' | 'laz' | 'ply' | 'ply-text' | 'csv';

export const POINT_EXTENSION: Record<PointFormat, string> = {
  las: 'las',
  laz: 'laz',
  ply: 'ply',
  'ply-text': 'ply',
  csv: 'csv',
};

/** Abbreviations of units in the names of columns, by metres. */
const UNITS: [number, string][] = [
  [1, 'm'],
  [0.3048, 'ft'],
  [1200 / 3937, 'usft'],
];

/**
 * Writes chosen points of a LAS file in a format.
 * @param keep 1 for each point to write, in file order.
 * @param crs label of the system, undefined when there is none.
 * @returns points written, and what the format does not carry.
 */
export async function writeAs(
  file: LasFile,
  path: string,
  keep: Uint8Array,
  format: PointFormat,
  crs: string | undefined,
  watch?: Watch,
): Promise<{ written: number; lost: string[] }> {
  if (format === 'ply' || format === 'ply-text')
    return writePly(file, path, keep, format === 'ply' ? 'binary' : 'text', crs ?? 'none', watch);
  if (format === 'csv') {
    const metres = crs ? parseSystem(crs).definition.metresPerUnit : 1;
    const unit = UNITS.find(([m]) => Math.abs(m - metres) < 1e-9)?.[1] ?? 'unit';
    return writeXyz(file, path, keep, crs ?? 'none', unit, watch);
  }
  const { written } = await writeSelected(file, path, keep, watch, format === 'laz');
  return { written, lost: [] };
}
