import { choice, number, operation } from '../declare';
import soundings from './soundings';

export default operation({
  name: 'patch',
  title: 'Test the mounting',
  past: 'tested',
  stage: 'place',
  version: 1,
  result: 'patch',
  resultName: 'Mounting test',
  roles: {
    sonar: { ...soundings.roles.sonar, label: 'Lines' },
    mounting: soundings.roles.mounting,
    trajectory: soundings.roles.trajectory,
    casts: soundings.roles.casts,
    waterLevel: soundings.roles.waterLevel,
  },
  settings: {
    cellM: number({
      label: 'Cell',
      flag: 'cell',
      unit: 'm',
      min: 0.2,
      max: 50,
      step: 0.25,
      digits: 2,
      usual: null,
      reason: 'Lines are compared in cells. Left empty: three times as wide as soundings lie apart, a metre at least.',
    }),
    water: choice({
      label: 'Water',
      flag: 'water',
      choices: { free: 'each line may bend', cast: 'as the casts say' },
      usual: 'free',
      reason: 'A cast that is out of date bends outer beams; left free, it does not end in the mounting.',
    }),
    castBy: soundings.settings.castBy,
    minLengthM: soundings.settings.minLengthM,
    turnDegPerS: soundings.settings.turnDegPerS,
    trajectoryCrs: soundings.settings.trajectoryCrs,
  },
  refuse: (_s, chosen) => (chosen.sonar === 0 ? 'No line was chosen.' : undefined),
  command: {
    name: 'patch',
    what: 'roll, pitch, heading and latency of an echo sounder from lines that overlap',
    system: soundings.command.system,
    files: { 'mount-out': { file: 'mounting', must: true, reason: 'Mounting with what was found, JSON.' } },
    example: `npx longheron patch --sonar a.sonar.h5,b.sonar.h5,c.sonar.h5 --mount boat_mount.json --trajectory boat.csv \\
           --casts casts.csv --crs EPSG:25832+5773 --mount-out tested.json`,
  },
  chapter: 30,
});
