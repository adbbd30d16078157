import { Problem, type Watch } from '@longheron/core/shared';
import { openFile } from '@longheron/formats/bytes';
import { parseSystem, wktOfSystem } from '@longheron/formats/crs';
import { writeFromPoints } from '@longheron/formats/las';
import { type PointColumns, type Stand } from '@longheron/formats/points';
import { formatId, openPoints } from '@longheron/formats/registry';
import { guessColumns, lookAtText, type TextLayout } from '@longheron/formats/text';

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
  /** The format it came in. */
  format: string;
  points: number;
  /** Points without coordinates, left out. */
  left: number;
  /** What the file holds that is not carried over. */
  lost: string[];
  /** Poses of its scans, where the file has them. */
  stands?: Stand[];
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
  const { source, format } = await openPoints(path, options.name, options.columns);
  try {
    const wkt = wktOf(source.system ?? options.crs);
    const { written, left } = await writeFromPoints(source, source.batches(watch), outPath, wkt, options.created);
    if (written === 0)
      throw new Problem('The cloud has no points.', {
        code: 'points-empty',
        file: source.name,
        remedy: 'Choose another cloud.',
      });
    const { stands } = source;
    return { format: formatId(format), points: written, left, lost: source.lost, ...(stands ? { stands } : {}) };
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
