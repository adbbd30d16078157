import { flag, list, number, operation, text } from '../declare';

/** Role of a mounting of which one sensor alone counts; the sensor's name follows. */
export const SENSOR_ROLE = 'sensor ';

export default operation({
  name: 'events',
  title: 'Position events',
  past: 'positioned',
  stage: 'position',
  version: 1,
  result: 'positions',
  resultName: 'Positions of events',
  roles: {
    trajectory: { kind: 'trajectory', label: 'Trajectory', flag: 'trajectory' },
    events: {
      kind: 'events',
      label: 'Events',
      flag: 'events',
      reason: 'Times of events, CSV: gps_week, gps_sow, label.',
    },
    photos: {
      kind: 'photos',
      label: 'Photographs',
      none: 'none',
      flag: 'photos',
      reason: 'To pair with the events: a list (CSV: name, taken), JPEG files, or a folder.',
    },
    mounting: { kind: 'mounting', label: 'Mounting', none: 'none', flag: 'mount' },
  },
  settings: {
    sensor: text({
      label: 'Sensor',
      flag: 'sensor',
      most: 60,
      usual: null,
      reason: "Its lever arm is applied, once; none: the trajectory's own point.",
    }),
    leaveOutStrays: flag({
      label: 'Leave out stray events',
      flag: 'leave-out-strays',
      usual: true,
      reason: 'Cameras trigger once when switched on.',
    }),
    leftOut: list({
      label: 'Events left out',
      least: 0,
      most: 100000,
      fewer: '',
      reason: 'By hand, each with its reason.',
      of: {
        event: number({
          label: 'Place of the event in its list',
          reason: '',
          unit: '',
          min: 0,
          max: 1e9,
          whole: true,
          usual: 0,
        }),
        reason: text({ label: 'Why the event is left out', reason: '', least: 1, most: 300, usual: '' }),
      },
    }),
    groundM: number({
      label: 'Height of the ground',
      flag: 'ground',
      unit: 'm',
      min: -500,
      max: 9000,
      digits: 1,
      usual: null,
      reason: "What the sensor's camera shows of level ground at that height is computed.",
    }),
    farthestM: number({
      label: 'Maximum view distance',
      flag: 'farthest',
      unit: 'm',
      min: 1,
      max: 100000,
      digits: 0,
      usual: 150,
      reason: 'Towards the horizon a view has no end.',
      shown: (s) => s.groundM !== undefined && s.groundM !== null,
    }),
    trajectoryCrs: text({
      label: 'Frame of the trajectory',
      flag: 'trajectory-crs',
      most: 20,
      usual: null,
      shown: () => false,
      reason: 'Of one that does not name its own, e.g. EPSG:4937.',
    }),
  },
  /** Of the mounting only the sensor named counts, or none of it. */
  keptAs: (role, s) => (role !== 'mounting' ? role : s.sensor ? `${SENSOR_ROLE}${String(s.sensor)}` : null),
  command: {
    name: 'events',
    what: 'a trajectory and times of events to their positions',
    system: { flag: 'crs', reason: 'System of the height of the ground.' },
    files: {
      out: { file: 'positions', must: true, reason: 'Positions, CSV.' },
      footprints: {
        file: 'footprints',
        aside: true,
        reason: 'What the camera shows of the ground, as areas, GeoJSON.',
      },
    },
    meant: (given) => ({ leaveOutStrays: false, farthestM: 1000, ...given }),
    example: `npx longheron events --trajectory vehicle.csv --events exposures.csv --mount mount.json --sensor camera \\
           --out positions.csv`,
  },
});
