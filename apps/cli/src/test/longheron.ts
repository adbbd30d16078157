import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = join(dirname(fileURLToPath(import.meta.url)), '../../../..');

/** Figures that the tests look at, as reports name them. */
export interface Figures {
  crs: string | null;
  strays: number;
  ground: number;
  points: number;
  epochs: number;
  cells: number;
  empty_cells: number;
  count: number;
  factor: number;
  mean_m: number;
  rms_m: number;
  rmse_m: number;
  fixed_share: number;
  within_tolerance: boolean | null;
  counts_by_class: { [code: string]: number };
  pairs: object[];
  voids: object[];
  findings: Array<{ fault: string }>;
  notices: Array<{ code: string; severity: string }>;
}

/** What a command left behind. */
export interface Ended {
  code: number | null;
  out: string;
  err: string;
  /** Its figures, where it wrote a report. */
  report: Figures;
}

export interface Bench {
  folder: string;
  /** Runs a command in the folder, as a shell would. */
  run: (...args: string[]) => Ended;
  write: (name: string, text: string | Uint8Array) => void;
  read: (name: string) => string;
  clear: () => void;
}

/** A folder to work in; the command line was built before the tests began. */
export function bench(): Bench {
  const folder = mkdtempSync(join(tmpdir(), 'longheron-cli-'));
  const report = join(folder, 'report.json');
  return {
    folder,
    run(...args) {
      rmSync(report, { force: true });
      const { status, stdout, stderr } = spawnSync(
        'node',
        [join(root, 'apps/cli/bin/longheron.mjs'), ...args, '--report', report],
        { cwd: folder, encoding: 'utf8', env: { ...process.env, LONGHERON_BUILT: '1' } },
      );
      // a command that could not writes none
      const figures = existsSync(report) ? JSON.parse(readFileSync(report, 'utf8')) : null;
      return { code: status, out: stdout, err: stderr, report: figures };
    },
    write: (name, text) => writeFileSync(join(folder, name), text),
    read: (name) => readFileSync(join(folder, name), 'utf8'),
    clear: () => rmSync(folder, { recursive: true, force: true }),
  };
}
