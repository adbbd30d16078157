import { open } from 'node:fs/promises';
import { Problem, type Watch } from '@longheron/core/shared';
import { openFile } from '@longheron/formats/bytes';
import { parseSystem, wktOfSystem } from '@longheron/formats/crs';
import { openE57 } from '@longheron/formats/e57';
import { writeFromPoints } from '@longheron/formats/las';
import { openPly } from '@longheron/formats/ply';
import { type PointSource } from '@longheron/formats/points';
import { guessColumns, lookAtText, openXyz, type PointColumns, type TextLayout } from '@longheron/formats/xyz';

export * from './write';

/** Formats of clouds that can be read. */
export type CloudFormat = 'las' | 'ply' | 'e57' | 'text';

/** Tells the format by the first bytes. */
export async function cloudFormat(path: string): Promise<CloudFormat> {
  const handle = await open(path, 'r');
  try {
    const { buffer } = await handle.read(Buffer.alloc(8), 0, 8, 0);
    const start = buffer.toString('latin1');
    if (start.startsWith('LASF')) return 'las';
    if (start.startsWith('ASTM-E57')) return 'e57';
    return /^ply\r?\n/.test(start) ? 'ply' : 'text';
  } finally {
    await handle.close();
  }
}

/** Opens a cloud that is not LAS. @param columns what the columns of a text hold, else as guessed. */
export async function openPoints(path: string, name?: string, columns?: PointColumns): Promise<PointSource> {
  const format = await cloudFormat(path);
  if (format === 'las')
    throw new Problem('The cloud is LAS already.', { code: 'format', file: name ?? path, remedy: 'Use it as it is.' });
  if (format === 'e57') return openE57(path, name);
  return format === 'ply' ? openPly(path, name) : openXyz(path, name, columns);
}

/** The first lines of a text of points and what its columns are taken to hold. */
export async function textColumns(
  path: string,
  name: string,
): Promise<{ layout: TextLayout; columns: PointColumns } | undefined> {
  const source = await openFile(path, name);
  try {
    const layout = await lookAtText(source);
    return layout && { layout, columns: guessColumns(layout) };
  } finally {
    await source.close();
  }
}

export interface Converted {
  points: number;
  /** Points without coordinates, left out. */
  left: number;
  /** What the file holds that is not carried over. */
  lost: string[];
}

/**
 * Writes a cloud of another format as LAS 1.4.
 * @param crs takes the place of a missing system in the file.
 */
export async function convertCloud(
  path: string,
  outPath: string,
  options: { name?: string; columns?: PointColumns; crs?: string; created: Date },
  watch?: Watch,
): Promise<Converted> {
  const source = await openPoints(path, options.name, options.columns);
  try {
    const wkt = wktOf(source.system ?? options.crs);
    const { written, left } = await writeFromPoints(source, source.batches(watch), outPath, wkt, options.created);
    if (written === 0)
      throw new Problem('The cloud has no points.', {
        code: 'points-empty',
        file: source.name,
        remedy: 'Choose another cloud.',
      });
    return { points: written, left, lost: source.lost };
  } finally {
    await source.close();
  }
}

/** WKT of a system given as WKT or by its codes; undefined when it is neither. */
function wktOf(system: string | undefined): string | undefined {
  if (!system) return undefined;
  if (/^\s*(COMPD_CS|PROJCS|GEOGCS|COMPOUNDCRS|PROJCRS|GEOGCRS)\s*\[/i.test(system)) return system;
  try {
    return wktOfSystem(parseSystem(system).definition);
  } catch {
    return undefined;
  }
}
