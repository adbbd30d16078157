// Runs one of our programs: the built code when it is newer than every source, else the sources through tsx.
import { existsSync, readdirSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { ENTRIES } from './entries.mjs';
import './generate.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));

function newest(folder) {
  let latest = 0;
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    if (entry.name === 'node_modules') continue;
    const path = join(folder, entry.name);
    latest = Math.max(latest, entry.isDirectory() ? newest(path) : statSync(path).mtimeMs);
  }
  return latest;
}

/** When a source of the Node programs was changed last. */
export function sourcesNewest() {
  let latest = 0;
  for (const group of ['packages', 'apps'])
    for (const name of readdirSync(join(root, group))) {
      if (group === 'apps' && name === 'web') continue;
      const folder = join(root, group, name, 'src');
      if (existsSync(folder)) latest = Math.max(latest, newest(folder));
    }
  return latest;
}

/** Imports the program `name` and gives its module. */
export async function runEntry(name) {
  const built = join(root, 'dist', 'node', `${name}.js`);
  if (existsSync(built) && (process.env.LONGHERON_BUILT === '1' || statSync(built).mtimeMs > sourcesNewest()))
    return import(pathToFileURL(built).href);
  const { register } = await import('tsx/esm/api');
  register();
  return import(pathToFileURL(join(root, ENTRIES[name])).href);
}
