// Every check of the project, one after the other; the last line counts what passed and failed.
//   node scripts/test.mjs [lint|types|layers|unit|browser …]   runs only those named
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buildWhenNeeded, installModules, installPackages } from './prepare.mjs';

const wanted = process.argv.slice(2);
const runs = (name) => wanted.length === 0 || wanted.includes(name);
const folder = mkdtempSync(join(tmpdir(), 'longheron-test-'));
let passed = 0;
let failed = 0;

installModules();
installPackages(['mariadbd', 'mariadb-install-db'], ['mariadb-server-core', 'mariadb-client-core']);
if (runs('browser')) installPackages(['chromium'], ['chromium']);
if (runs('unit')) installPackages(['pdftotext', 'pdftoppm'], ['poppler-utils']);

function command(program, args, extra = {}) {
  return spawnSync(program, args, { stdio: 'inherit', env: { ...process.env, ...extra } }).status === 0;
}

/** A check that counts as one. */
function single(name, title, program, args) {
  if (!runs(name)) return;
  console.log(`\n== ${title}`);
  if (command(program, args)) passed++;
  else {
    failed++;
    console.log(`FAILED: ${title}`);
  }
}

function json(path) {
  try {
    return JSON.parse(readFileSync(path, 'utf8'));
  } catch {
    return undefined;
  }
}

single('lint', 'lint and format', 'npm', ['run', '--silent', 'lint']);
single('types', 'types', 'npm', ['run', '--silent', 'types']);
single('layers', 'dependency rules', 'npm', ['run', '--silent', 'layers']);
if (runs('unit')) {
  console.log('\n== unit and server tests');
  const path = join(folder, 'unit.json');
  const good = command('npx', ['vitest', 'run', '--reporter=default', '--reporter=json', `--outputFile.json=${path}`]);
  const result = json(path);
  passed += result?.numPassedTests ?? 0;
  failed += result ? result.numFailedTests : 1;
  // a file that could not even be loaded has no test to count
  if (!good && result && result.numFailedTests === 0) failed++;
}
if (runs('browser')) {
  console.log('\n== browser tests');
  buildWhenNeeded();
  const path = join(folder, 'browser.json');
  const good = command('npx', ['playwright', 'test', '--reporter=list,json'], { PLAYWRIGHT_JSON_OUTPUT_NAME: path });
  const stats = json(path)?.stats;
  passed += (stats?.expected ?? 0) + (stats?.flaky ?? 0);
  failed += stats ? stats.unexpected : 1;
  if (!good && stats && stats.unexpected === 0) failed++;
}
rmSync(folder, { recursive: true, force: true });
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed === 0 && passed > 0 ? 0 : 1);
