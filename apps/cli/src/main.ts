import { writeFile } from 'node:fs/promises';
import { forCommandLine, Problem, type Watch } from '@longheron/core/shared';
import { COMMANDS, formatsHelp } from './commands';
import { overview } from './help';
import { Options } from './options';

/** Runs the command line. @returns the exit code: 0 done, 1 done but not good, 2 could not. */
export async function main(args: string[]): Promise<number> {
  const [name, ...rest] = args;
  if (!name || name === '--help' || name === '-h' || name === 'help') {
    process.stdout.write(rest[0] === 'formats' ? formatsHelp() : (COMMANDS[rest[0] ?? '']?.help ?? overview()));
    return name ? 0 : 2;
  }
  const known = COMMANDS[name];
  if (!known) {
    process.stderr.write(`There is no command "${name}".\n\n${overview()}`);
    return 2;
  }
  if (rest.includes('--help') || rest.includes('-h')) {
    process.stdout.write(known.help);
    return 0;
  }
  const { command } = known;
  try {
    const options = Options.parse(rest, command.options);
    const outcome = await command.run(options, progressOn(options.flag('quiet')));
    clearProgress();
    process.stdout.write(`${outcome.lines.join('\n')}\n`);
    if (name !== 'inspect')
      for (const n of outcome.report.notices.map(forCommandLine))
        process.stderr.write(
          `${n.severity}: ${n.text}${n.effect ? ` ${n.effect}` : ''}${n.remedy ? ` ${n.remedy}` : ''}\n`,
        );
    const path = options.text('report');
    if (path)
      await writeFile(
        path,
        `${JSON.stringify({ ...outcome.report, notices: outcome.report.notices.map(forCommandLine) }, null, 2)}\n`,
      );
    return outcome.failed ? 1 : 0;
  } catch (error) {
    clearProgress();
    const problem = error instanceof Problem ? error : problemOfPath(error);
    if (problem) process.stderr.write(`longheron ${name}: ${problem.describe()}\n`);
    else process.stderr.write(`longheron ${name}: an unexpected fault: ${(error as Error)?.stack ?? String(error)}\n`);
    return 2;
  }
}

const PATH_FAULTS: { [code: string]: [string, string] } = {
  ENOENT: ['There is no such file or folder.', 'Look at how the path is written.'],
  EACCES: ['It may not be read or written here.', 'Ask for the rights, or choose another folder.'],
  EISDIR: ['This is a folder; a file is needed.', 'Name the file in it.'],
  ENOSPC: ['The disk is full.', 'Make room, or choose another folder.'],
};

/** A file that cannot be opened, in words; undefined for every other fault. */
function problemOfPath(error: unknown): Problem | undefined {
  if (!(error instanceof Error) || !('code' in error) || !('path' in error)) return undefined;
  const words = PATH_FAULTS[String(error.code)];
  return words && new Problem(words[0], { code: 'file', file: String(error.path), remedy: words[1] });
}

let shown = false;

function progressOn(quiet: boolean): Watch {
  if (quiet || !process.stderr.isTTY) return {};
  let last = 0;
  return {
    progress(fraction, doing) {
      const now = Date.now();
      if (now - last < 100) return;
      last = now;
      shown = true;
      process.stderr.write(`\r\x1b[K${(100 * fraction).toFixed(0).padStart(3)} %  ${doing ?? ''}`);
    },
  };
}

function clearProgress(): void {
  if (shown) process.stderr.write('\r\x1b[K');
}
