import { ecefToNed, type ReferenceSystem, type SensorMounting } from '@longheron/core/frames';
import { multiply3, transpose3, type Matrix3 } from '@longheron/core/numeric';
import { type Ray } from '../casting';
import { type TrueDrive } from '../drive';
import { attitude, nearby, sensorAxes } from '../platform';
import { SITE_ORIGIN_E, SITE_ORIGIN_N } from '../terrain';

/** Where a sensor truly is at a moment and how the body is turned there, as a list of positions has it. */
export function poseOf(
  drive: TrueDrive,
  system: ReferenceSystem,
  sow: number,
  sensor: SensorMounting,
): { latRad: number; lonRad: number; hEllM: number; rollRad: number; pitchRad: number; headingRad: number } {
  const i = Math.round((sow - drive.startSow) / drive.stepS);
  const geo = new Float64Array(3);
  system.unproject(drive.x[i] + SITE_ORIGIN_E, drive.y[i] + SITE_ORIGIN_N, drive.heightM[i], geo);
  const { convergenceRad } = system.convergenceAndScale(geo[0], geo[1]);
  const { a, f } = system.ellipsoid;
  const e2 = f * (2 - f);
  const attitudeNed = attitude(drive.rollRad[i], drive.pitchRad[i], drive.bearingRad[i] + convergenceRad);
  const l = sensor.leverArmM;
  const arm = [0, 1, 2].map(
    (k) => attitudeNed[3 * k] * l[0] + attitudeNed[3 * k + 1] * l[1] + attitudeNed[3 * k + 2] * l[2],
  );
  // a metre of arm over radii of curvature
  const w = Math.sqrt(1 - e2 * Math.sin(geo[0]) ** 2);
  const [meridian, prime] = [(a * (1 - e2)) / w ** 3, a / w];
  const turned = multiply3(attitudeNed, sensorAxes(sensor));
  return {
    latRad: geo[0] + arm[0] / (meridian + geo[2]),
    lonRad: geo[1] + arm[1] / ((prime + geo[2]) * Math.cos(geo[0])),
    hEllM: geo[2] - arm[2],
    rollRad: Math.atan2(turned[7], turned[8]),
    pitchRad: Math.asin(-turned[6]),
    headingRad: Math.atan2(turned[3], turned[0]),
  };
}

/** Where a sensor truly is at a moment: sets beams that leave it in a direction of its own axes, of any length. */
export class Stand {
  private readonly c: Float64Array;
  private readonly turn: Matrix3;
  private readonly arm: readonly number[];

  constructor(drive: TrueDrive, system: ReferenceSystem, sow: number, sensor: SensorMounting) {
    const i = Math.round((sow - drive.startSow) / drive.stepS);
    const geo = new Float64Array(3);
    system.unproject(drive.x[i] + SITE_ORIGIN_E, drive.y[i] + SITE_ORIGIN_N, drive.heightM[i], geo);
    const { convergenceRad } = system.convergenceAndScale(geo[0], geo[1]);
    const map = nearby(system, geo[0], geo[1], geo[2]);
    const level = multiply3(map.axes, transpose3(ecefToNed(geo[0], geo[1])));
    const body = multiply3(level, attitude(drive.rollRad[i], drive.pitchRad[i], drive.bearingRad[i] + convergenceRad));
    const l = sensor.leverArmM;
    this.c = map.c;
    this.turn = multiply3(body, sensorAxes(sensor));
    this.arm = [0, 1, 2].map((k) => body[3 * k] * l[0] + body[3 * k + 1] * l[1] + body[3 * k + 2] * l[2]);
  }

  /** @param x, y, z direction in the sensor's axes: ahead, to the right, downwards. */
  aim(ray: Ray, x: number, y: number, z: number): void {
    const { c, turn: t, arm } = this;
    const length = Math.sqrt(x * x + y * y + z * z);
    const north = (t[0] * x + t[1] * y + t[2] * z) / length;
    const east = (t[3] * x + t[4] * y + t[5] * z) / length;
    const down = (t[6] * x + t[7] * y + t[8] * z) / length;
    ray.fromMap(c, arm[0], arm[1], arm[2], north, east, down, SITE_ORIGIN_E, SITE_ORIGIN_N);
  }
}
