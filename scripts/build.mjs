// Builds the Node programs with esbuild and, unless --node-only, the web application with Vite.
import { existsSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';
import { ENTRIES } from './entries.mjs';
import './generate.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const entryPoints = Object.fromEntries(
  Object.entries(ENTRIES)
    .map(([name, source]) => [name, join(root, source)])
    .filter(([, source]) => existsSync(source)),
);

/** Our own packages are bundled, everything from node_modules stays outside. */
const externals = {
  name: 'externals',
  setup(b) {
    b.onResolve({ filter: /^[^./]/ }, (args) => {
      if (args.kind === 'entry-point' || args.path.startsWith('@longheron/')) return undefined;
      return { path: args.path, external: true };
    });
  },
};

rmSync(join(root, 'dist', 'node'), { recursive: true, force: true });
await build({
  entryPoints,
  outdir: join(root, 'dist', 'node'),
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  sourcemap: true,
  keepNames: false,
  splitting: true,
  logLevel: 'warning',
  plugins: [externals],
  tsconfig: join(root, 'tsconfig.base.json'),
});
if (!process.argv.includes('--node-only') && existsSync(join(root, 'apps/web/vite.config.ts'))) {
  const vite = await import('vite');
  await vite.build({ configFile: join(root, 'apps/web/vite.config.ts'), logLevel: 'warn' });
}
