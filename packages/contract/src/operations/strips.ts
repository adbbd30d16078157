import { flag, operation, text, values } from '../declare';
import place from './place';

/** What can be solved for, as the command line names it. */
export const SOLVED: readonly string[] = ['boresight', 'lever', 'shift', 'drift', 'range'];
const USUAL: ReadonlySet<string> = new Set(['boresight', 'shift', 'drift']);

export default operation({
  name: 'strips',
  title: 'Adjust the strips',
  past: 'adjusted',
  stage: 'place',
  version: 1,
  result: 'adjustment',
  resultName: 'Strip adjustment',
  roles: {
    trajectory: place.roles.trajectory,
    returns: place.roles.returns,
    mounting: place.roles.mounting,
    control: {
      kind: 'marks',
      label: 'Control marks',
      none: 'none',
      flag: 'control',
      reason: 'Heights of control marks on planar ground enter; they cannot prove the cloud afterwards.',
    },
  },
  settings: {
    boresight: flag({
      label: 'Boresight',
      usual: true,
      reason: 'Roll, pitch and heading of each head. Needs lines both ways, better also one across.',
    }),
    lever: flag({
      label: 'Lever arm',
      usual: false,
      reason: 'Of each head. Lines seldom tell it better than a tape does; height needs control marks.',
    }),
    range: flag({
      label: 'Range offset',
      usual: false,
      reason: 'One number for each head; needs control marks, or slopes and heights that differ much.',
    }),
    shift: flag({
      label: 'Shift of lines',
      usual: true,
      reason: 'Takes the mean error of each line out of the trajectory, within its deviations.',
    }),
    drift: flag({
      label: 'Slow drift along lines',
      usual: true,
      reason: 'Also what changes along a line; each correction has its deviation.',
    }),
    minLengthM: place.settings.minLengthM,
    turnDegPerS: place.settings.turnDegPerS,
    trajectoryCrs: place.settings.trajectoryCrs,
  },
  refuse: (s) =>
    SOLVED.some((key) => s[key] ?? USUAL.has(key))
      ? undefined
      : 'Nothing is to be solved: choose at least one thing, e.g. the boresight.',
  command: {
    name: 'strips',
    what: 'overlapping strips to a calibrated mounting, a corrected trajectory and a cloud that agrees',
    system: place.command.system,
    more: {
      solve: values({
        label: 'Solved for',
        flag: 'solve',
        of: text({ label: 'Solved for', most: 20, usual: null, reason: '' }),
        least: 1,
        most: SOLVED.length,
        reason: `Of ${SOLVED.join(', ')}; without it boresight,shift,drift.`,
      }),
    },
    meant: (given, more) => {
      const words = more.solve as string[];
      const wrong = words.find((w) => !SOLVED.includes(w));
      if (wrong) throw new Error(`--solve has "${wrong}"; it knows ${SOLVED.join(', ')}.`);
      return words.length ? { ...given, ...Object.fromEntries(SOLVED.map((w) => [w, words.includes(w)])) } : given;
    },
    files: {
      'mount-out': { file: 'mounting', must: true, reason: 'Mounting with what was found, JSON.' },
      'trajectory-out': { file: 'trajectory', reason: 'Corrected trajectory, CSV.' },
      out: { file: 'cloud', must: true, aside: true, reason: 'Cloud made from both, LAS or LAZ.' },
      csv: { file: 'pairs', aside: true, reason: 'Pairs of strips before and after, as a table.' },
    },
    example: `npx longheron strips --trajectory flight.csv --returns flight.laser.h5 --mount mount.json --crs EPSG:25832+5773 \\
           --mount-out calibrated.json --trajectory-out corrected.csv --out cloud.laz`,
  },
  chapter: 28,
});
