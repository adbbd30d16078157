import { faultOf, complete, type Declaration, type Given, type Setting } from '@longheron/contract/declare';
import { LAS_CLASS_NAMES } from '@longheron/core/cloud';
import { part, Problem, type Watch } from '@longheron/core/shared';
import { parseSystem } from '@longheron/formats/crs';
import { LasFile, writeSelected } from '@longheron/formats/las';
import { loadComputation, openPaths, type Output } from '@longheron/operations/computation';
import { FolderStore } from '@longheron/operations/shared/store';
import { mkdtemp, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Options } from '../options';
import { withGrids } from './grids';
import { type Command, type Outcome } from './command';

type CommandForm = NonNullable<Declaration['command']>;

/** Flags of an operation's command, with whether each takes a value. */
function flagsOf(declaration: Declaration, command: CommandForm): Command['options'] {
  const out: Command['options'] = {};
  for (const { flag } of Object.values(declaration.roles)) if (flag) out[flag] = 'string';
  for (const s of settingsOf(declaration, command)) {
    if (s.flag) out[s.flag] = s.type === 'flag' ? 'boolean' : 'string';
    if (s.type === 'flag' && s.flagOff) out[s.flagOff] = 'boolean';
    if (s.type === 'choice') for (const name of Object.keys(s.switches ?? {})) out[name] = 'boolean';
  }
  for (const name of Object.keys({ ...command.files, ...command.joined })) out[name] = 'string';
  for (const f of [command.system, command.tolerance]) if (f) out[f.flag] = 'string';
  if (takesGeoid(declaration)) out.geoid = 'string';
  out.shift = 'string';
  out.systems = 'string';
  return out;
}

/** Every command that has no geoid among its files takes one: the system it works in, and files, may name it. */
const takesGeoid = (declaration: Declaration) => !Object.values(declaration.roles).some((r) => r.flag === 'geoid');

/** The system that flags name, with the grid of its heights. @throws Problem for heights that are named twice. */
function systemFrom(o: Options, declaration: Declaration, { system }: CommandForm): string | undefined {
  const named = system && (system.must ? o.must(system.flag) : o.text(system.flag));
  const geoids = takesGeoid(declaration) && o.text('geoid') ? o.list('geoid') : [];
  const of = (flag: string) => (o.text(flag) ? o.list(flag) : []);
  return withGrids(named, { geoid: geoids, shift: of('shift'), systems: of('systems') }, system?.flag ?? 'crs');
}

const settingsOf = (declaration: Declaration, command: CommandForm): Setting[] =>
  Object.values({ ...declaration.settings, ...command.more });

/** A number as typed. @throws Problem that names the flag. */
function numberOf(flag: string, text: string): number {
  const value = Number(text);
  if (text.trim() === '' || !Number.isFinite(value))
    throw new Problem(`--${flag} is "${text}"; a number is needed.`, { code: 'option', remedy: 'See --help.' });
  return value;
}

/** The value that flags give to a setting; undefined when none of them was given. */
function valueOf(o: Options, s: Setting): unknown {
  if (s.type === 'flag') {
    if (s.flagOff && o.flag(s.flagOff)) return false;
    return s.flag && o.flag(s.flag) ? true : undefined;
  }
  if (s.type === 'choice') for (const [name, value] of Object.entries(s.switches ?? {})) if (o.flag(name)) return value;
  const text = s.flag ? o.text(s.flag) : undefined;
  if (text === undefined) return undefined;
  if (s.type === 'number') return numberOf(s.flag!, text);
  if (s.type === 'values') {
    const words = text.split(',').filter(Boolean);
    if (words.length < s.least)
      throw new Problem(`--${s.flag} is "${text}"; ${s.least} values between commas are needed.`, {
        code: 'option',
        remedy: 'See --help.',
      });
    return s.of.type === 'number' ? words.map((w) => numberOf(s.flag!, w)) : words;
  }
  return text;
}

function givenBy(o: Options, schema: { readonly [key: string]: Setting }): { [key: string]: unknown } {
  const out: { [key: string]: unknown } = {};
  for (const [key, s] of Object.entries(schema)) {
    const value = valueOf(o, s);
    if (value !== undefined) out[key] = value;
  }
  return out;
}

/** Settings that flags give, as they are meant. @throws Problem for a value that the operation refuses. */
function settingsFrom(o: Options, declaration: Declaration, command: CommandForm, asked: string[]): Given {
  const given = givenBy(o, declaration.settings);
  for (const [name, { settings }] of Object.entries(command.joined ?? {})) {
    const text = o.text(name);
    if (text === undefined) continue;
    const values = text.split(',').map((v) => numberOf(name, v));
    if (values.length !== settings.length)
      throw new Problem(`--${name} is "${text}"; ${settings.length} numbers between commas are needed.`, {
        code: 'option',
        remedy: 'See --help.',
      });
    settings.forEach((key, i) => (given[key] = values[i]));
  }
  const more = command.more ? complete(command.more, givenBy(o, command.more)) : {};
  let meant: Given;
  try {
    meant = command.meant?.(given, more, asked) ?? given;
  } catch (error) {
    throw new Problem((error as Error).message, { code: 'option', remedy: 'See --help.' });
  }
  const chosen = Object.fromEntries(
    Object.entries(declaration.roles).map(([role, { flag }]) => [role, flag && o.text(flag) ? o.list(flag).length : 0]),
  );
  const fault = faultOf(declaration, meant, chosen);
  if (!fault) return meant;
  const flag = declaration.settings[fault.field]?.flag;
  throw new Problem(`${flag ? `--${flag}: ` : ''}${fault.message}`, { code: 'option', remedy: 'See --help.' });
}

/** The command of an operation: the same computation as the job, on files alone. */
export function commandOf(declaration: Declaration, command: CommandForm): Command {
  const files = Object.entries(command.files);
  return {
    options: flagsOf(declaration, command),
    async run(o, watch) {
      const paths = Object.fromEntries(
        Object.entries(declaration.roles).map(([role, { flag, none }]) => {
          if (!flag) return [role, []];
          return [role, none === undefined ? o.list(flag) : o.text(flag) === undefined ? [] : o.list(flag)];
        }),
      );
      const read = Object.values(paths).flat();
      const written = new Map<string, string>();
      for (const [flag, { file, must }] of files) {
        if (must) o.must(flag);
        const path = o.output(flag, read);
        if (path) written.set(file, path);
      }
      const asked = Object.keys(this.options).filter((name) => o.text(name) !== undefined);
      const settings = settingsFrom(o, declaration, command, asked);
      const { tolerance } = command;
      const crs = systemFrom(o, declaration, command);
      const toleranceM = tolerance && o.number(tolerance.flag, 0);
      const folder = await mkdtemp(join(tmpdir(), 'longheron-'));
      try {
        return await compute(declaration, paths, written, settings, { crs, toleranceM }, folder, watch);
      } finally {
        await rm(folder, { recursive: true, force: true });
      }
    },
  };
}

async function compute(
  declaration: Declaration,
  paths: { [role: string]: string[] },
  written: Map<string, string>,
  settings: Given,
  { crs, toleranceM }: { crs?: string; toleranceM?: number },
  folder: string,
  watch: Watch,
): Promise<Outcome> {
  const started = performance.now();
  const store = new FolderStore(folder);
  const findings: Parameters<typeof openPaths>[2]['findings'] = [];
  const { inputs, hashed } = await openPaths(declaration, paths, { store, crs, findings });
  const output: Output = {
    store,
    keeps: false,
    wanted: (file) => written.has(file),
    async file(name, kind, write) {
      const path = written.get(name) ?? store.scratch();
      if (kind === 'las' && /\.laz$/i.test(path)) await compressed(store.scratch(), path, write);
      else await write(path);
      return { sha256: '', bytes: (await stat(path)).size };
    },
  };
  const context = {
    crs: crs && parseSystem(crs).label,
    toleranceM,
    projectName: 'ground',
    usedMarks: {},
    classNames: CLASS_NAMES,
  };
  const { run } = await loadComputation(declaration.name);
  const made = await run(inputs, complete(declaration.settings, settings), context, output, part(watch, 0, 1) ?? {});
  const seconds = Number(((performance.now() - started) / 1000).toFixed(3));
  const notices = [...findings, ...made.report.notices];
  return {
    report: {
      ...made.report,
      command: declaration.command?.name ?? declaration.name,
      seconds,
      inputs: hashed,
      notices,
    },
    lines: made.lines ?? made.log,
    failed: made.failed || notices.some((n) => n.severity === 'error'),
  };
}

/** Lets a LAS file be written beside and writes its points compressed, for a name that ends in .laz. */
async function compressed(beside: string, path: string, write: (path: string) => Promise<unknown>): Promise<void> {
  await write(beside);
  const file = await LasFile.openPath(beside);
  try {
    await writeSelected(file, path, new Uint8Array(file.header.pointCount).fill(1), undefined, true);
  } finally {
    await file.close();
    await rm(beside, { force: true });
  }
}

const CLASS_NAMES = Array.from({ length: 256 }, (_, c) => (LAS_CLASS_NAMES[c] ?? `class ${c}`).toLowerCase());
