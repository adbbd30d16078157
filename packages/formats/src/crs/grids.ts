import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { geoidOfGrid, gridNameOf, gridText, type Geoid, type GridName, type ShiftGrid } from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';
import { readGeoid } from '../geoid/read';
import { isNtv2, readShifts } from '../ntv2/read';
import { isTiff } from '../tiff/place';
import { readTiffs } from '../tiff/raster';
import { isWkt, readSystemWkt, type SystemWkt } from './wkt';

/** Paths of files by the first twelve digits of their SHA-256. */
const known = new Map<string, string>();
const geoids = new Map<string, Geoid>();
const shifts = new Map<string, ShiftGrid>();
const systems = new Map<string, SystemWkt>();
const MAX_OPENED = 8;
/** A folder of objects named by their SHA-256, in folders of the first two digits. */
let storeFolder: string | undefined;

/** Grids and systems are looked for in a store of objects. */
export function lookForGridsIn(folder: string): void {
  storeFolder = folder;
}

/** What a file that a text of a system can name is. */
export type FileIs = 'geoid' | 'shift' | 'system';

/**
 * Makes the grid or system in a file known to this process. @returns its name for texts of systems, and what it is.
 * @throws Problem when it is neither a geoid grid nor one of datum shifts nor well-known text.
 */
export function useGrid(path: string): GridName & { is: FileIs } {
  const bytes = readFileSync(path);
  const grid = gridNameOf(path, createHash('sha256').update(bytes).digest('hex'));
  known.set(grid.sha12, path);
  const is: FileIs = isShifts(bytes, grid.name) ? 'shift' : isWkt(bytes) ? 'system' : 'geoid';
  if (is === 'shift') keep(shifts, grid, readShifts(bytes, grid.name));
  else if (is === 'system') keep(systems, grid, readSystemWkt(textOf(bytes), grid.name));
  else keep(geoids, grid, geoidOfGrid(readGeoid(bytes, grid.name), grid.name));
  return { ...grid, is };
}

/** NTv2, or a GeoTIFF with two bands in latitude and longitude. */
const isShifts = (bytes: Uint8Array, name: string) =>
  isNtv2(bytes) || (isTiff(bytes) && readTiffs(bytes, name)[0].bands.length >= 2);

const textOf = (bytes: Uint8Array) => new TextDecoder().decode(bytes);

/** The geoid that a text names. @throws Problem when its grid is not at hand, or is none. */
export const geoidNamed = (grid: GridName): Geoid =>
  geoids.get(gridText(grid)) ??
  keep(
    geoids,
    grid,
    geoidOfGrid(readGeoid(bytesOf(grid, 'Heights refer to the geoid grid', 'geoid'), grid.name), grid.name),
  );

/** The datum shifts that a text names. @throws Problem when their grid is not at hand, or is none. */
export const shiftNamed = (grid: GridName): ShiftGrid =>
  shifts.get(gridText(grid)) ??
  keep(shifts, grid, readShifts(bytesOf(grid, 'Plan is shifted by the grid', 'shift'), grid.name));

/** The system of a file that a text names. @throws Problem when the file is not at hand, or is none. */
export const systemNamed = (file: GridName): SystemWkt =>
  systems.get(gridText(file)) ??
  keep(systems, file, readSystemWkt(textOf(bytesOf(file, 'The system is defined by the file', 'systems')), file.name));

/** Whether a name stands for well-known text, by what the file holds; by its ending when it is not at hand. */
export function isSystemFile(file: GridName): boolean {
  if (systems.has(gridText(file))) return true;
  if (geoids.has(gridText(file))) return false;
  const path = pathOf(file);
  return path ? isWkt(readFileSync(path)) : /\.(wkt|prj|crs)$/i.test(file.name);
}

/** SHA-256 of a file that a text names; undefined when it is not at hand. */
export function sha256Of(file: GridName): string | undefined {
  const path = pathOf(file);
  return path && createHash('sha256').update(readFileSync(path)).digest('hex');
}

function pathOf({ sha12 }: GridName): string | undefined {
  const path = known.get(sha12) ?? inStore(sha12);
  return path && existsSync(path) ? path : undefined;
}

function bytesOf(grid: GridName, what: string, flag: string): Uint8Array {
  const path = pathOf(grid);
  if (path) return readFileSync(path);
  throw new Problem(`${what} ${grid.name}, which is not here.`, {
    code: 'grid-missing',
    remedy: flag === 'systems' ? 'Import that file in Gather.' : 'Import that grid in Gather.',
    command: `Give it with --${flag}; the beginning of its SHA-256 is ${grid.sha12}.`,
  });
}

function keep<T>(opened: Map<string, T>, grid: GridName, value: T): T {
  if (opened.size >= MAX_OPENED) opened.delete([...opened.keys()][0]);
  opened.set(gridText(grid), value);
  return value;
}

function inStore(sha12: string): string | undefined {
  if (!storeFolder) return undefined;
  const folder = join(storeFolder, sha12.slice(0, 2));
  const found = existsSync(folder) ? readdirSync(folder).find((name) => name.startsWith(sha12)) : undefined;
  return found && join(folder, found);
}
