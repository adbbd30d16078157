// Speeds of the main computations beside those of an earlier state, run in turn on the same machine, the best of each.
//   npm run bench -- --against REF [--times 5] [position place ground cloud]
import { execFileSync, spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, rmSync, symlinkSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
/** What may be lost against the earlier state before it is called a miss. */
const MAX_SLOWER = 1.05;
const USUAL = ['position', 'place', 'ground', 'cloud'];

/** The state of the project at `ref` in a folder of its own, built; packages of others are shared. */
function stateAt(ref) {
  const folder = mkdtempSync(join(tmpdir(), 'longheron-against-'));
  execFileSync('git', ['-C', root, 'worktree', 'add', '--detach', '--force', folder, ref], { stdio: 'ignore' });
  const modules = join(folder, 'node_modules');
  mkdirSync(join(modules, '@longheron'), { recursive: true });
  for (const name of readdirSync(join(root, 'node_modules')))
    if (name !== '@longheron') symlinkSync(join(root, 'node_modules', name), join(modules, name));
  for (const group of ['packages', 'apps'])
    for (const name of readdirSync(join(folder, group)))
      symlinkSync(join(folder, group, name), join(modules, '@longheron', name));
  execFileSync('node', ['scripts/build.mjs', '--node-only'], { cwd: folder, stdio: ['ignore', 'ignore', 'inherit'] });
  return folder;
}

/** Seconds of each line of the bench that gives some. */
function run(folder, names) {
  const { stdout, status } = spawnSync('node', ['scripts/run-built.mjs', 'bench', ...names], {
    cwd: folder,
    encoding: 'utf8',
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  if (status !== 0) throw new Error(`The bench of ${folder} ended with ${status}.`);
  const out = new Map();
  for (const line of stdout.split('\n')) {
    const at = /^(?:ok|MISS)? +(\S.{0,50}?\S) {2,}.*?([\d.]+) s\)?/.exec(line);
    if (at) out.set(at[1].replace(/, \d+ nodes$/, ''), Number(at[2]));
  }
  return out;
}

export function benchAgainst(ref, times, names) {
  const wanted = names.length ? names : USUAL;
  const earlier = stateAt(ref);
  const best = [new Map(), new Map()];
  try {
    execFileSync('node', ['scripts/build.mjs', '--node-only'], { cwd: root, stdio: ['ignore', 'ignore', 'inherit'] });
    for (let k = 0; k < times; k++)
      // neither is always the first
      for (const i of k % 2 ? [1, 0] : [0, 1])
        for (const [what, s] of run([earlier, root][i], wanted))
          best[i].set(what, Math.min(s, best[i].get(what) ?? Infinity));
  } finally {
    execFileSync('git', ['-C', root, 'worktree', 'remove', '--force', earlier]);
    rmSync(earlier, { recursive: true, force: true });
  }
  console.log(`Best of ${times}, run in turn. Before: ${ref}.`);
  let met = true;
  for (const [what, before] of best[0]) {
    const now = best[1].get(what);
    if (now === undefined) continue;
    const good = now <= MAX_SLOWER * before;
    met &&= good;
    const figures = `${before.toFixed(2)} s, now ${now.toFixed(2)} s, ratio ${(now / before).toFixed(3)}`;
    console.log(`${good ? 'ok  ' : 'MISS'}  ${what.padEnd(52)} ${figures.padEnd(40)} at most ${MAX_SLOWER}`);
  }
  return met;
}
