import { parseArgs, type ParseArgsConfig } from 'node:util';
import { existsSync, realpathSync } from 'node:fs';
import { resolve } from 'node:path';
import { Problem } from '@longheron/core/shared';

const COMMON = {
  report: { type: 'string' },
  quiet: { type: 'boolean' },
  help: { type: 'boolean', short: 'h' },
} as const;

/** Values that begin with a minus, such as southern latitudes, are joined to their flag. */
function withNegatives(args: string[], options: NonNullable<ParseArgsConfig['options']>): string[] {
  const out: string[] = [];
  for (const arg of args) {
    const before = out.at(-1) ?? '';
    const takesValue = before.startsWith('--') && options[before.slice(2)]?.type === 'string';
    if (takesValue && /^-[\d.]/.test(arg)) out[out.length - 1] = `${before}=${arg}`;
    else out.push(arg);
  }
  return out;
}

/** The words of a command, checked: unknown options are refused. */
export class Options {
  private constructor(
    private readonly values: Record<string, string | boolean | undefined>,
    readonly files: string[],
  ) {}

  static parse(args: string[], names: Record<string, 'string' | 'boolean'>): Options {
    const options: ParseArgsConfig['options'] = { ...COMMON };
    for (const [name, type] of Object.entries(names)) options[name] = { type };
    try {
      const parsed = parseArgs({ args: withNegatives(args, options), options, allowPositionals: true, strict: true });
      return new Options(parsed.values as Record<string, string | boolean | undefined>, parsed.positionals);
    } catch (error) {
      throw new Problem(`${(error as Error).message.split('.')[0]}.`, { code: 'option', remedy: 'See --help.' });
    }
  }

  flag(name: string): boolean {
    return this.values[name] === true;
  }

  text(name: string): string | undefined {
    const value = this.values[name];
    return typeof value === 'string' ? value : undefined;
  }

  must(name: string): string {
    const value = this.text(name);
    if (!value) throw new Problem(`--${name} is missing.`, { code: 'option', remedy: 'See --help.' });
    return value;
  }

  number(name: string, low = -Infinity, high = Infinity): number | undefined {
    const text = this.text(name);
    if (text === undefined) return undefined;
    const value = Number(text);
    if (text.trim() === '' || !Number.isFinite(value) || value < low || value > high)
      throw new Problem(
        `--${name} is "${text}"; a number${low > -Infinity ? ` from ${low}` : ''}${high < Infinity ? ` to ${high}` : ''} is needed.`,
        { code: 'option', remedy: 'See --help.' },
      );
    return value;
  }

  list(name: string): string[] {
    return this.must(name).split(',').filter(Boolean);
  }

  /** An output path that is none of the inputs. */
  output(name: string, inputs: string[]): string | undefined {
    const path = this.text(name);
    if (!path) return undefined;
    const real = (p: string) => (existsSync(p) ? realpathSync(p) : resolve(p));
    if (inputs.some((i) => real(i) === real(path)))
      throw new Problem(`--${name} is one of the inputs; raw files are never changed.`, {
        code: 'option',
        file: path,
        remedy: 'Give another name.',
      });
    return path;
  }
}
