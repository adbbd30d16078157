import { operation } from '../declare';

export default operation({
  name: 'join',
  title: 'Join sessions',
  past: 'joined',
  stage: 'position',
  version: 1,
  result: 'trajectory',
  resultName: 'Joined trajectory',
  roles: {
    parts: {
      kind: 'trajectory',
      label: 'Sessions',
      several: true,
      flag: 'in',
      reason: 'Trajectories of following sessions, of one frame and point.',
    },
  },
  settings: {},
  refuse: (_s, chosen) => (chosen.parts > 1 ? undefined : 'Two trajectories at least are needed.'),
  command: {
    name: 'join',
    what: 'trajectories of several sessions to one',
    files: {
      out: {
        file: 'trajectory',
        must: true,
        reason: 'One trajectory, CSV; gaps stay, overlaps are cut in the middle.',
      },
    },
    example: 'npx longheron join --in morning.csv,afternoon.csv --out day.csv',
  },
});
