import { LIMIT_DEFAULTS } from '@longheron/core/laser';
import { STRIP_DEFAULTS } from '@longheron/core/trajectory';
import { number, operation, text } from '../declare';

export default operation({
  name: 'place',
  title: 'Make the cloud',
  past: 'placed',
  stage: 'place',
  version: 1,
  result: 'point-cloud',
  resultName: 'Cloud',
  roles: {
    trajectory: { kind: 'trajectory', label: 'Trajectory', flag: 'trajectory' },
    returns: {
      ...{ kind: 'laser-returns', label: 'Laser returns', several: true, flag: 'returns' },
      reason: 'HDF5, one file a scanner head.',
    },
    mounting: { kind: 'mounting', label: 'Mounting', flag: 'mount' },
  },
  settings: {
    minLengthM: number({
      ...{ label: 'Shortest strip', flag: 'min-strip', unit: 'm', min: 0, max: 1e6, step: 10 },
      ...{ usual: STRIP_DEFAULTS.minLengthM },
      reason: 'Straight pieces shorter than this are left out of the strips; their points stay in the cloud.',
    }),
    turnDegPerS: number({
      ...{ label: 'Turning from', flag: 'turn-rate', unit: '° a second', min: 0.5, max: 90, step: 0.5 },
      ...{ usual: STRIP_DEFAULTS.turnDegPerS },
      reason: 'Faster turning ends a strip: scanners disagree most in turns.',
    }),
    targetPerM2: number({
      ...{ label: 'Wanted density', unit: 'points/m²', min: 1, max: 100000, step: 10, usual: 100 },
      reason: 'What the density in plan is compared with; it changes no point.',
    }),
    minRangeM: number({
      ...{ label: 'Range from', flag: 'min-range', unit: 'm', min: 0, max: 20000, step: 0.5 },
      ...{ usual: LIMIT_DEFAULTS.minRangeM, reason: 'Nearer is mostly the platform itself, and spray.' },
    }),
    maxRangeM: number({
      ...{ label: 'Range to', flag: 'max-range', unit: 'm', min: 0, max: 20000, step: 10 },
      ...{
        usual: LIMIT_DEFAULTS.maxRangeM,
        reason: 'Angles weigh more with range, and points grow sparse; 0: no limit.',
      },
    }),
    minIntensity: number({
      ...{ label: 'Intensity from', flag: 'min-intensity', unit: '', min: 0, max: 65535, step: 10 },
      ...{ usual: LIMIT_DEFAULTS.minIntensity, reason: 'Weak echoes are noisy; wires and wet asphalt are weak too.' },
    }),
    maxIntensity: number({
      ...{ label: 'Intensity to', flag: 'max-intensity', unit: '', min: 0, max: 65535, step: 100 },
      ...{ usual: LIMIT_DEFAULTS.maxIntensity },
      reason: 'Reflectors blind the receiver and bring false ranges; 0: no limit.',
    }),
    fromAzimuthDeg: number({
      ...{ label: 'Sector left out, from', flag: 'from-azimuth', unit: '°', min: -360, max: 360, step: 5 },
      ...{ usual: LIMIT_DEFAULTS.fromAzimuthDeg },
      reason: 'Azimuth of the sensor, clockwise, that sees the platform.',
    }),
    toAzimuthDeg: number({
      ...{ label: 'Sector left out, to', flag: 'to-azimuth', unit: '°', min: -360, max: 360, step: 5 },
      ...{ usual: LIMIT_DEFAULTS.toAzimuthDeg, reason: 'Equal to its start: nothing is left out.' },
    }),
    trajectoryCrs: text({
      ...{ label: 'Frame of the trajectory', flag: 'trajectory-crs', most: 20, usual: null, shown: () => false },
      reason: 'Of one that does not name its own, e.g. EPSG:4937.',
    }),
  },
  command: {
    name: 'place',
    what: 'laser returns and a trajectory to a cloud',
    system: {
      ...{ flag: 'crs', must: true },
      reason: 'Projected system + heights, e.g. EPSG:25832+5773; without + ellipsoidal heights.',
    },
    files: { out: { file: 'cloud', must: true, reason: 'LAS 1.4 to write.' } },
    note: 'Returns outside the limits are written as withheld, and counted.',
    example: `npx longheron place --trajectory demo/vehicle_20260616_traj.csv \\
           --returns demo/vehicle_20260616_head1.laser.h5,demo/vehicle_20260616_head2.laser.h5 \\
           --mount demo/vehicle_mount.json --crs EPSG:25832+5773 --out cloud.las`,
  },
});
