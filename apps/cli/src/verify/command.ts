import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';

/** `npm run verify` runs in the project's folder. */
const BIN = join(process.cwd(), 'apps/cli/bin/longheron.mjs');

/** Runs a command in a folder as a person does; its report. */
export function command<R>(folder: string, ...args: string[]): R {
  const { status, stderr } = spawnSync('node', [BIN, ...args, '--report', 'report.json'], {
    cwd: folder,
    encoding: 'utf8',
  });
  if (status === 2) throw new Error(`${args[0]}: ${stderr}`);
  return JSON.parse(readFileSync(join(folder, 'report.json'), 'utf8')) as R;
}
