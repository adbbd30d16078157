// Server and web pages for development: the server restarts when its sources change, pages reload by Vite.
import { spawn } from 'node:child_process';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { installModules, installPackages } from './prepare.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
installModules();
installPackages(['mariadbd', 'mariadb-install-db'], ['mariadb-server-core', 'mariadb-client-core']);
const env = { ...process.env, LONGHERON_ROOT: root };
const watched = ['packages', 'apps/server/src'].flatMap((f) => ['--watch-path', join(root, f)]);
const children = [
  spawn(process.execPath, [...watched, join(root, 'scripts/start.mjs'), ...process.argv.slice(2)], {
    stdio: 'inherit',
    env,
  }),
  spawn('npx', ['vite', '--config', join(root, 'apps/web/vite.config.ts')], { stdio: 'inherit', env }),
];
const stop = () => children.forEach((c) => c.kill('SIGINT'));
process.on('SIGINT', stop);
process.on('SIGTERM', stop);
for (const c of children) c.on('exit', stop);
