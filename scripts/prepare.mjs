// What a fresh machine lacks: npm packages, MariaDB from Debian's packages, the build.
import { execFileSync } from 'node:child_process';
import { existsSync, readdirSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import './generate.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const [major, minor] = process.versions.node.split('.').map(Number);
if (major !== 20 || minor < 19) {
  console.error(`Node.js 20.19 or later of version 20 is needed; this is ${process.version}.`);
  process.exit(1);
}

/** Installs Debian packages when none of the binaries is there. */
export function installPackages(binaries, packages) {
  const there = (b) =>
    ['/usr/sbin', '/usr/bin', '/usr/local/sbin', '/usr/local/bin'].some((f) => existsSync(join(f, b)));
  if (binaries.every(there)) return;
  const line = `apt-get install -y ${packages.join(' ')}`;
  if (process.getuid?.() !== 0) {
    console.error(
      `Missing: ${packages.join(', ')}. Run this once, then start again:\n  sudo apt-get update && sudo ${line}`,
    );
    process.exit(1);
  }
  console.log(`Installing ${packages.join(', ')} …`);
  const options = {
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
  };
  execFileSync('apt-get', ['update', '-qq'], options);
  execFileSync('apt-get', ['install', '-y', '-qq', '--no-install-recommends', ...packages], options);
}

export function installModules() {
  const lock = statSync(join(root, 'package-lock.json')).mtimeMs;
  const mark = join(root, 'node_modules/.package-lock.json');
  if (existsSync(mark) && (statSync(mark).mtimeMs >= lock || process.env.LONGHERON_KEEP_MODULES)) return;
  console.log('Installing npm packages …');
  execFileSync('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: root,
    stdio: ['ignore', 'ignore', 'inherit'],
  });
}

function newest(folder) {
  let latest = 0;
  for (const e of readdirSync(folder, { withFileTypes: true })) {
    if (e.name === 'node_modules') continue;
    const path = join(folder, e.name);
    latest = Math.max(latest, e.isDirectory() ? newest(path) : statSync(path).mtimeMs);
  }
  return latest;
}

export function buildWhenNeeded() {
  const built = join(root, 'dist/web/index.html');
  const source = Math.max(newest(join(root, 'packages')), newest(join(root, 'apps')), newest(join(root, 'scripts')));
  if (existsSync(built) && statSync(built).mtimeMs > source) return;
  console.log('Building …');
  execFileSync(process.execPath, [join(root, 'scripts/build.mjs')], {
    cwd: root,
    stdio: ['ignore', 'ignore', 'inherit'],
  });
}

if (process.argv[1] === fileURLToPath(import.meta.url) && !process.argv.includes('--help')) {
  installModules();
  installPackages(['mariadbd', 'mariadb-install-db'], ['mariadb-server-core', 'mariadb-client-core']);
  buildWhenNeeded();
} else if (process.argv.includes('--help')) {
  installModules();
}
