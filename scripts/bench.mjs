// npm run bench [-- NAME …]: speeds of the computations, then of the running application.
// npm run bench -- --against REF [--times N] [NAME …]: computations beside those of an earlier state.
import { spawnSync } from 'node:child_process';
import { dirname } from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import { benchAgainst } from './bench-against.mjs';

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: { against: { type: 'string' }, times: { type: 'string', default: '5' } },
});
if (values.against) process.exit(benchAgainst(values.against, Number(values.times), positionals) ? 0 : 1);
const root = dirname(dirname(fileURLToPath(import.meta.url)));
const run = (...args) => {
  const { status } = spawnSync('node', args, { cwd: root, stdio: 'inherit' });
  if (status !== 0) process.exit(status ?? 1);
};
run('scripts/build.mjs');
run('scripts/run-built.mjs', 'bench', ...positionals);
if (positionals.length === 0) run('scripts/bench-application.mjs');
