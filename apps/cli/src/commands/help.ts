import { GEOID_REASON, SHIFT_REASON, SYSTEMS_REASON } from './grids';
import { type Declaration, type Setting } from '@longheron/contract/declare';

type CommandForm = NonNullable<Declaration['command']>;

const WIDTH = 26;

/** A flag with what is said of it, wrapped below. */
function line(flag: string, words: string): string {
  const head = `  ${flag}`.padEnd(WIDTH);
  const indent = ' '.repeat(WIDTH);
  const lines: string[] = [];
  let at = head.length > WIDTH ? `${head}\n${indent}` : head;
  for (const word of words.split(' ')) {
    const last = at.slice(at.lastIndexOf('\n') + 1);
    if (last.length + word.length > 110) {
      lines.push(at);
      at = indent;
    }
    at += `${word} `;
  }
  return [...lines, at].map((l) => l.trimEnd()).join('\n');
}

const inWords = (reason: string | undefined, label: string) => (reason ? `${label}: ${lower(reason)}` : label);
const lower = (s: string) => s.replace(/^[A-Z](?=[a-z]*\b)/, (c) => c.toLowerCase()).replace(/\.$/, '');

/** What a setting takes, in capitals. */
function valueName(s: Setting): string {
  if (s.type === 'number') return s.unit && /^[a-z]+$/i.test(s.unit) ? s.unit.toUpperCase() : 'N';
  if (s.type === 'choice')
    return Object.keys(s.choices)
      .map((k) => (/\s/.test(k) ? `'${k}'` : k))
      .join('|');
  return s.type === 'values' ? 'A[,B]' : 'TEXT';
}

function settingLines(s: Setting): string[] {
  const out: string[] = [];
  const usual =
    (s.type === 'number' || s.type === 'text' || s.type === 'choice') && s.usual !== null && s.usual !== ''
      ? ` (usually ${s.usual}${s.type === 'number' && s.unit ? ` ${s.unit}` : ''})`
      : '';
  if (s.flag)
    out.push(
      line(`--${s.flag}${s.type === 'flag' ? '' : ` ${valueName(s)}`}`, `${inWords(s.reason, s.label)}${usual}`),
    );
  if (s.type === 'flag' && s.flagOff) out.push(line(`--${s.flagOff}`, `not: ${lower(s.label)}`));
  if (s.type === 'choice')
    for (const [name, value] of Object.entries(s.switches ?? {}))
      out.push(line(`--${name}`, `${lower(s.label)}: ${s.choices[value]}`));
  return out;
}

/** The text of `--help` of an operation's command. */
export function helpOf(declaration: Declaration, command: CommandForm): string {
  const roles = Object.values(declaration.roles).filter((r) => r.flag);
  const must = [
    ...roles.filter((r) => r.none === undefined).map((r) => `--${r.flag} F${r.several ? '[,F]' : ''}`),
    ...(command.system?.must ? [`--${command.system.flag} S`] : []),
    ...Object.entries(command.files).flatMap(([flag, f]) => (f.must ? [`--${flag} F`] : [])),
  ];
  const settings = Object.values({ ...declaration.settings, ...command.more });
  return [
    `longheron ${command.name} ${must.join(' ')} [more]`,
    '',
    `Makes ${command.what.replace(/^(what|how|where) /, 'known $1 ')}.`.replace('Makes known', 'Tells'),
    '',
    ...roles.map((r) => line(`--${r.flag} F${r.several ? '[,F]' : ''}`, inWords(r.reason, r.label))),
    ...[command.system, command.tolerance].flatMap((f) =>
      f ? [line(`--${f.flag} ${f === command.system ? 'S' : 'M'}`, f.reason)] : [],
    ),
    ...(roles.some((r) => r.flag === 'geoid') ? [] : [line('--geoid F[,F]', GEOID_REASON)]),
    line('--shift F[,F]', SHIFT_REASON),
    line('--systems F[,F]', SYSTEMS_REASON),
    ...Object.entries(command.joined ?? {}).map(([flag, j]) => line(`--${flag} A,B,C`, j.reason)),
    ...settings.flatMap(settingLines),
    ...Object.entries(command.files).map(([flag, f]) => line(`--${flag} F`, f.reason)),
    ...(command.note ? ['', command.note] : []),
    '',
    `Example: ${command.example}`,
    '',
  ].join('\n');
}
