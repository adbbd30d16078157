// Builds the Node programs once before the tests, as long as a source is newer than what was built.
import { execFileSync } from 'node:child_process';
import { existsSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { sourcesNewest } from './run-entry.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));

export function setup() {
  const built = join(root, 'dist/node/cli.js');
  if (existsSync(built) && statSync(built).mtimeMs > sourcesNewest()) return;
  execFileSync(process.execPath, [join(root, 'scripts/build.mjs'), '--node-only'], { cwd: root, stdio: 'ignore' });
}
