import { choice, number, operation } from '../declare';
import place from './place';

export default operation({
  name: 'soundings',
  title: 'Reduce the soundings',
  past: 'reduced',
  stage: 'place',
  version: 1,
  result: 'point-cloud',
  resultName: 'Soundings',
  roles: {
    sonar: { kind: 'sonar', label: 'Sonar', several: true, flag: 'sonar', reason: 'HDF5 with soundings.' },
    mounting: { kind: 'mounting', label: 'Mounting', flag: 'mount' },
    trajectory: {
      kind: 'trajectory',
      label: 'Trajectory',
      none: 'real-time navigation',
      flag: 'trajectory',
      reason: 'Place, attitude and height of the vessel; without it navigation and motion of the sonar file.',
    },
    casts: { kind: 'casts', label: 'Sound speed', flag: 'casts' },
    waterLevel: {
      kind: 'water-level',
      label: 'Water level',
      none: 'none',
      flag: 'water-level',
      reason: 'Of a gauge: heights where there is no trajectory.',
    },
  },
  settings: {
    castBy: choice({
      label: 'Cast used',
      flag: 'cast-by',
      choices: { time: 'nearest in time', place: 'nearest in place' },
      usual: 'time',
      reason: 'Water changes with the tide and the sun; at the mouth of a river it changes with the place.',
    }),
    leastQuality: number({
      label: 'Doubtful below grade',
      flag: 'least-quality',
      unit: '',
      min: 1,
      max: 3,
      whole: true,
      usual: 2,
      reason: 'Detections that the instrument grades lower are rejected, not dropped; 1: none.',
    }),
    minLengthM: place.settings.minLengthM,
    turnDegPerS: place.settings.turnDegPerS,
    trajectoryCrs: place.settings.trajectoryCrs,
  },
  command: {
    name: 'soundings',
    what: 'sonar recordings, sound speed and a trajectory or water levels to soundings',
    system: place.command.system,
    files: { out: { file: 'cloud', must: true, reason: 'Soundings, LAS or LAZ.' } },
    note: 'Doubtful detections are written as withheld, and counted. Heights come from the trajectory, else from the water level; with neither they are relative, and this is said.',
    example: `npx longheron soundings --sonar line1.sonar.h5,line2.sonar.h5 --mount boat_mount.json --trajectory boat.csv \\
           --casts casts.csv --crs EPSG:25832+5773 --out soundings.laz`,
  },
  chapter: 31,
});
