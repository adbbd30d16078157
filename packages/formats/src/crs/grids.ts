import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { geoidOfGrid, gridNameOf, gridText, type Geoid, type GridName } from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';
import { readGeoid } from '../geoid/read';

/** Paths of grids by the first twelve digits of their SHA-256. */
const known = new Map<string, string>();
const opened = new Map<string, Geoid>();
const MAX_OPENED = 8;
/** A folder of objects named by their SHA-256, in folders of the first two digits. */
let storeFolder: string | undefined;

/** Grids are looked for in a store of objects. */
export function lookForGridsIn(folder: string): void {
  storeFolder = folder;
}

/** Makes the grid in a file known to this process. @returns its name for texts of systems. @throws Problem when it is no geoid grid. */
export function useGrid(path: string): GridName {
  const bytes = readFileSync(path);
  const grid = gridNameOf(path, createHash('sha256').update(bytes).digest('hex'));
  known.set(grid.sha12, path);
  open(grid, bytes);
  return grid;
}

/** The geoid that a text names. @throws Problem when its grid is not at hand, or is none. */
export function geoidNamed(grid: GridName): Geoid {
  const had = opened.get(gridText(grid));
  if (had) return had;
  const path = known.get(grid.sha12) ?? inStore(grid.sha12);
  if (!path || !existsSync(path))
    throw new Problem(`Heights refer to the geoid grid ${grid.name}, which is not here.`, {
      code: 'geoid-missing',
      remedy: 'Import that grid in Gather.',
      command: `Give it with --geoid; the beginning of its SHA-256 is ${grid.sha12}.`,
    });
  return open(grid, readFileSync(path));
}

function open(grid: GridName, bytes: Uint8Array): Geoid {
  if (opened.size >= MAX_OPENED) opened.delete([...opened.keys()][0]);
  const geoid = geoidOfGrid(readGeoid(bytes, grid.name), grid.name);
  opened.set(gridText(grid), geoid);
  return geoid;
}

function inStore(sha12: string): string | undefined {
  if (!storeFolder) return undefined;
  const folder = join(storeFolder, sha12.slice(0, 2));
  const found = existsSync(folder) ? readdirSync(folder).find((name) => name.startsWith(sha12)) : undefined;
  return found && join(folder, found);
}
