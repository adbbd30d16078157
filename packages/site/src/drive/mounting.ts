import { type AnglesDeg, type CameraModel, type Mounting, type SensorMounting } from '@longheron/core/frames';
import { Random, type Vector3 } from '@longheron/core/numeric';
import { NOISE, NOISE_FACTOR, type NoiseLevel } from './noise';

export const HEADS = ['head1', 'head2'] as const;
export type Head = (typeof HEADS)[number];

/** Made-up serial numbers of the heads. */
export const HEAD_SERIALS: Record<Head, string> = { head1: 'DS-0412', head2: 'DS-0413' };
const CALIBRATED_ON = '2026-04-17';
const SERVICED_ON = '2026-02-03';

/** Design of the roof rack: lever arms from the inertial reference point, nominal orientations. */
const DESIGN: Record<Head, { leverArmM: Vector3; orientationDeg: AnglesDeg }> = {
  head1: { leverArmM: [-0.62, -0.34, -0.31], orientationDeg: { roll: 90, pitch: 0, heading: 45 } },
  head2: { leverArmM: [-0.62, 0.34, -0.31], orientationDeg: { roll: 90, pitch: 0, heading: -45 } },
};

/** The camera on the roof looks ahead and a little down; its pictures are small, so that they are soon drawn. */
export const ROOF_CAMERA = {
  focalLengthMm: 8,
  sensorMm: [11.26, 7.04],
  pixels: [600, 375],
  looks: 'forward',
} satisfies CameraModel;
/** How well the camera is aimed, 1 SD, degrees. */
const CAMERA_BORESIGHT_DEG = 0.05;
/** The camera of the flight looks down through the floor. */
export const AIR_MOUNT: SensorMounting = {
  leverArmM: [0.42, -0.1, 0.35],
  orientationDeg: { roll: 0, pitch: 0, heading: 0 },
  boresightDeg: { roll: 0, pitch: 0, heading: 0 },
  leverArmSdM: 0.005,
  boresightSdDeg: 0.05,
  camera: { focalLengthMm: 44.4, sensorMm: [36, 24], pixels: [1200, 800], looks: 'down' },
};
const CAMERA = { leverArmM: [0.84, 0.02, -0.27] as Vector3, orientationDeg: { roll: 0, pitch: -8, heading: 0 } };

/** The mounting as delivered, with the deviations it states. */
export function deliveredMounting(level: NoiseLevel = 'medium'): Mounting {
  const factor = NOISE_FACTOR[level];
  const sensors: Record<string, SensorMounting> = {};
  for (const head of HEADS)
    sensors[head] = {
      ...DESIGN[head],
      boresightDeg: { roll: 0, pitch: 0, heading: 0 },
      leverArmSdM: factor * NOISE.leverArmM,
      boresightSdDeg: factor * NOISE.boresightDeg,
      serial: HEAD_SERIALS[head],
      calibratedOn: CALIBRATED_ON,
      servicedOn: SERVICED_ON,
    };
  sensors.camera = {
    ...CAMERA,
    boresightDeg: { roll: 0, pitch: 0, heading: 0 },
    leverArmSdM: factor * NOISE.leverArmM,
    boresightSdDeg: factor * CAMERA_BORESIGHT_DEG,
    camera: ROOF_CAMERA,
  };
  return { gnssLeverArmM: [-0.2, 0, -0.35], gnssLeverArmSdM: factor * NOISE.leverArmM, sensors };
}

/** The mounting as it truly is: design plus errors drawn from the stated deviations. */
export function trueMounting(seed: number, level: NoiseLevel = 'medium'): Mounting {
  const mounting = deliveredMounting(level);
  const antenna = new Random(seed, 'mounting antenna');
  const leverSdM = NOISE_FACTOR[level] * NOISE.leverArmM;
  mounting.gnssLeverArmM = mounting.gnssLeverArmM!.map((v) => v + antenna.normal() * leverSdM) as Vector3;
  for (const name of [...HEADS, 'camera']) {
    const random = new Random(seed, `mounting ${name}`);
    const s = mounting.sensors[name];
    s.leverArmM = s.leverArmM.map((v) => v + random.normal() * s.leverArmSdM) as Vector3;
    const sdDeg = NOISE_FACTOR[level] * (name === 'camera' ? CAMERA_BORESIGHT_DEG : NOISE.boresightDeg);
    s.boresightDeg = {
      roll: random.normal() * sdDeg,
      pitch: random.normal() * sdDeg,
      heading: random.normal() * sdDeg,
    };
  }
  return mounting;
}
