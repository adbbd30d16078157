import { COMMANDS } from './commands';

/** The text of `--help` without a command. */
export const overview = () => `longheron: a survey from raw sensor files to proven surfaces, on files alone

${Object.entries(COMMANDS)
  .map(([name, { what }]) => `  longheron ${`${name} ...`.padEnd(20)} ${what}`)
  .join('\n')}

Common: --report FILE.json   all figures, SI units
        --quiet              no progress
        --help               of a command, with an example
        help formats         what is read and written

Exit code: 0 done; 1 done, but out of tolerance or with errors not accepted; 2 could not.
`;
