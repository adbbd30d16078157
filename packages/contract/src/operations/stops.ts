import { number, operation } from '../declare';

export default operation({
  name: 'stops',
  title: 'Make marks of stops',
  past: 'made of stops',
  stage: 'position',
  version: 1,
  result: 'marks',
  resultName: 'Occupied marks',
  roles: {
    trajectory: { kind: 'trajectory', label: 'Trajectory of the antenna', flag: 'trajectory' },
    occupations: {
      ...{ kind: 'occupations', label: 'Where it stood', none: 'found by themselves', flag: 'occupations' },
      reason: 'When which mark was occupied, CSV; without it stops are found by themselves.',
    },
    known: {
      ...{ kind: 'marks', label: 'Marks known already', several: true, none: 'none', flag: 'marks' },
      reason: 'To compare with.',
    },
  },
  settings: {
    shortestS: number({
      ...{ label: 'Shortest stop', flag: 'shortest', unit: 's', min: 2, max: 36000, step: 1, digits: 0, usual: 10 },
      reason: 'Standing about for less is none.',
      shown: (_s, chosen) => !chosen.occupations,
    }),
    antennaHeightM: number({
      ...{ label: 'Antenna over the mark', flag: 'antenna-height', unit: 'm', min: 0, max: 50, step: 0.01, digits: 4 },
      ...{ usual: 0, reason: "Vertical, to the antenna's reference point; a height in the list counts before it." },
    }),
    centringSdM: number({
      ...{ label: 'Centring, 1 SD', flag: 'centring-sd', unit: 'm', min: 0, max: 0.1, step: 0.001, digits: 4 },
      ...{ usual: 0.004, reason: 'Of the pole or tripod over the mark, in plan.', shown: () => false },
    }),
  },
  command: {
    name: 'stops',
    what: 'marks where an antenna stood still',
    system: { flag: 'crs', must: true, reason: 'System of the marks, e.g. EPSG:25832+5773.' },
    files: { out: { file: 'marks', must: true, reason: 'Marks, CSV.' } },
    example: `npx longheron stops --trajectory pole.csv --occupations demo/pole_20260616_occupations.csv \\
           --crs EPSG:25832+5773 --marks demo/marks_network.csv --out occupied.csv`,
  },
});
