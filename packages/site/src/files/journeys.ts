import { type ReferenceSystem } from '@longheron/core/frames';
import { type Vector3 } from '@longheron/core/numeric';
import { DRIVE_START_SOW, trueDrive, type TrueDrive } from '../drive';
import { trueFlight, trueVoyage } from '../journeys';
import { poleWalk } from '../occupations';
import { JOURNEY_FILES } from './names';

let driveMade: TrueDrive | undefined;

/** The one true drive; made once a process. */
export function siteDrive(): TrueDrive {
  driveMade ??= trueDrive(DRIVE_START_SOW);
  return driveMade;
}

/** The walk with the pole begins this long after the drive, seconds. */
export const WALK_AFTER_S = 60;

/** The true flight of the full set. */
export function siteFlight(system: ReferenceSystem): TrueDrive {
  const walk = poleWalk(system, Math.ceil(driveSpan()[1]) + WALK_AFTER_S);
  return journeysAfter(walk.endSow)[0].drive;
}

export function driveSpan(): [number, number] {
  const { startSow, stepS, x } = siteDrive();
  return [startSow, startSow + (x.length - 1) * stepS];
}

/** The true voyage of the full set. */
export function siteVoyage(system: ReferenceSystem): TrueDrive {
  const walk = poleWalk(system, Math.ceil(driveSpan()[1]) + WALK_AFTER_S);
  return journeysAfter(walk.endSow)[1].drive;
}

/** A journey of another platform that day. */
interface Journey {
  marker: string;
  drive: TrueDrive;
  endSow: number;
  leverArmM: Vector3;
  files: { rover: string; inertial: string; mounting: string };
  /** File with the times of its camera. */
  camera?: string;
}

/** The flight, and after it the voyage, begin this long after what went before, seconds. */
const BETWEEN_S = 120;

export function journeysAfter(sow: number): Journey[] {
  const end = (d: TrueDrive) => d.startSow + (d.x.length - 1) * d.stepS;
  const flight = trueFlight(Math.ceil(sow) + BETWEEN_S);
  const voyage = trueVoyage(Math.ceil(end(flight)) + BETWEEN_S);
  const f = JOURNEY_FILES;
  return [
    {
      marker: 'AIRCRAFT',
      drive: flight,
      endSow: end(flight),
      leverArmM: [0.15, 0, -0.92] as Vector3,
      files: { rover: f.flightRover, inertial: f.flightInertial, mounting: f.flightMounting },
      camera: f.flightExposures,
    },
    {
      marker: 'BOAT',
      drive: voyage,
      endSow: end(voyage),
      leverArmM: [-0.4, 0.3, -2.1] as Vector3,
      files: { rover: f.boatRover, inertial: f.boatInertial, mounting: f.boatMounting },
    },
  ];
}
