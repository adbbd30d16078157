import { ABOUT_FORMATS, POINT_ENDINGS, READ_FORMATS, type About } from '@longheron/contract/formats';
import { operationOf, OPERATION_NAMES } from '@longheron/contract/operations';
import { type Command } from './command';
import { GEOID_REASON, SHIFT_REASON, SYSTEMS_REASON } from './grids';
import { convert } from './convert';
import { helpOf } from './help';
import { inspect } from './inspect';
import { commandOf } from './operation';
import { site } from './site';

/** Commands with what they are in the list, and their `--help`. */
export interface Known {
  command: Command;
  what: string;
  help: string;
}

/** Formats that clouds come in. */
const CLOUDS = READ_FORMATS.flatMap((f) => (f.kind === 'point-cloud' ? [f.name] : [])).join('; ');

/** Commands of the command line's own: looking at files, other formats, the demo site. */
const OWN: { [name: string]: Known } = {
  inspect: {
    command: inspect,
    what: 'what each file is: kind, time span, extent, counts, gaps, findings',
    help: `longheron inspect FILE... [--report FILE.json]

Tells what each file is by its content: kind, time span, extent, counts, gaps, findings.

Example: npx longheron inspect demo/*
`,
  },
  convert: {
    command: convert,
    what: 'a cloud in another format',
    help: `longheron convert --in CLOUD --out cloud${POINT_ENDINGS.join('|')} [--crs S [--geoid F] [--shift F]] [--columns x,y,z,...] [--text]

  --in F                  ${CLOUDS}
  --out F                 its ending names the format; what it does not carry is said
  --crs S                 system of a file that names none, e.g. EPSG:25832+5773
  --geoid F[,F]           ${GEOID_REASON}
  --shift F[,F]           ${SHIFT_REASON}
  --systems F[,F]         ${SYSTEMS_REASON}
  --columns C             what the columns of a text hold, - for nothing: x,y,z,-,intensity
  --text                  PLY as text

Example: npx longheron convert --in demo/out/cloud.las --out demo/out/cloud.laz
`,
  },
  site: {
    command: site,
    what: "the made-up demo site's files",
    help: `longheron site --out FOLDER [--size full|small] [--seed N] [--noise none|low|medium|high]

Makes the raw files of the made-up demo site Brannholm Reach.

Example: npx longheron site --out demo --size small
`,
  },
};

/** What is said of formats, for `help formats`. */
export function formatsHelp(): string {
  const row = (a: string, b: string) => `  ${a.padEnd(30)} ${b}`;
  const written = ABOUT_FORMATS.filter((f) => f.points || f.written);
  const loses = (f: About) => (f.loses ? `; not carried: ${f.loses}` : '');
  return [
    'Taken in, recognised by content:',
    ...READ_FORMATS.map((f) => row(f.name, `${f.holds}${f.packed ? ', also compressed by gzip' : ''}`)),
    '',
    'Written:',
    ...written.map((f) =>
      row(f.name, `${[f.points && 'points of a cloud', f.written].filter(Boolean).join(', ')}${loses(f)}`),
    ),
    '',
    'Layouts: docs/formats/README.md',
    '',
  ].join('\n');
}

/** The commands: the command line's own, and one for each operation that declares one. */
export const COMMANDS: { [name: string]: Known } = Object.fromEntries([
  ...Object.entries(OWN).filter(([name]) => name !== 'site'),
  ...OPERATION_NAMES.flatMap((name): Array<[string, Known]> => {
    const declaration = operationOf(name);
    const form = declaration?.command;
    if (!declaration || !form) return [];
    const command = commandOf(declaration, form);
    return [[form.name, { command, what: form.what, help: helpOf(declaration, form) }]];
  }),
  ['site', OWN.site],
]);
