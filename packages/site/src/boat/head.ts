import { type SensorMounting } from '@longheron/core/frames';
import { type Matrix3 } from '@longheron/core/numeric';
import { type ReferenceSystem } from '@longheron/core/frames';
import { type TrueDrive } from '../drive';
import { attitude, nearby, sensorAxes, type Nearby } from '../platform';
import { REFERENCE_OVER_WATER_M } from '../journeys/voyage';
import { SITE_ORIGIN_E, SITE_ORIGIN_N } from '../terrain';

/** The true mounting of the head under the hull. */
export const TRUE_HEAD: SensorMounting = {
  leverArmM: [0.22, 0.06, 2.33],
  orientationDeg: { roll: 0, pitch: 0, heading: 0 },
  boresightDeg: { roll: 0.35, pitch: -0.8, heading: 1.1 },
  leverArmSdM: 0,
  boresightSdDeg: 0,
};
/** As it was written down when it was built in: nobody has tested it. */
export const DELIVERED_HEAD: SensorMounting = {
  ...TRUE_HEAD,
  boresightDeg: { roll: 0, pitch: 0, heading: 0 },
  leverArmSdM: 0.005,
  boresightSdDeg: { roll: 0.5, pitch: 1, heading: 1.5 },
  latencyS: 0,
  latencySdS: 0.05,
};
/** How far the waterline lies below the reference point, metres. */
export const WATERLINE_M = REFERENCE_OVER_WATER_M;
/** The sonar's clock is late by this, seconds. */
export const LATENCY_S = 0.06;

/** How far a place may be from where the surroundings were looked at, metres. */
const REACH_M = 60;

/** Where the boat and its head are at any time, and how they lie. */
export class TrueBoat {
  private readonly sensor: Matrix3;
  private near: Nearby | undefined;
  private readonly nearAt = [Infinity, Infinity];
  private convergenceRad = 0;
  private readonly geo = new Float64Array(3);

  constructor(
    private readonly drive: TrueDrive,
    private readonly system: ReferenceSystem,
    private readonly mounting: SensorMounting = TRUE_HEAD,
  ) {
    this.sensor = sensorAxes(mounting);
  }

  private value(of: Float64Array, t: number): number {
    const p = Math.min(Math.max((t - this.drive.startSow) / this.drive.stepS, 0), of.length - 1.001);
    const k = Math.floor(p);
    return of[k] + (p - k) * (of[k + 1] - of[k]);
  }

  /** Site coordinates and height of the reference point. */
  place(t: number): [number, number, number] {
    const { x, y, heightM } = this.drive;
    return [this.value(x, t), this.value(y, t), this.value(heightM, t)];
  }

  /** The surroundings of the reference point: metres north, east, down of it to easting, northing and height. */
  surroundings(t: number): { near: Nearby; at: [number, number, number] } {
    const at = this.place(t);
    if (!this.near || Math.hypot(at[0] - this.nearAt[0], at[1] - this.nearAt[1]) > REACH_M) {
      this.system.unproject(at[0] + SITE_ORIGIN_E, at[1] + SITE_ORIGIN_N, at[2], this.geo);
      const [lat, lon, h] = this.geo;
      this.convergenceRad = this.system.convergenceAndScale(lat, lon).convergenceRad;
      this.near = nearby(this.system, lat, lon, h);
      [this.nearAt[0], this.nearAt[1]] = at;
    }
    return { near: this.near, at };
  }

  /** Axes of the body in north, east, down. */
  body(t: number): Matrix3 {
    const { rollRad, pitchRad, bearingRad } = this.drive;
    return attitude(this.value(rollRad, t), this.value(pitchRad, t), this.value(bearingRad, t) + this.convergenceRad);
  }

  /** Axes of the head in north, east, down. */
  head(body: Matrix3): Matrix3 {
    const out = new Float64Array(9);
    for (let r = 0; r < 3; r++)
      for (let c = 0; c < 3; c++)
        for (let k = 0; k < 3; k++) out[3 * r + c] += body[3 * r + k] * this.sensor[3 * k + c];
    return out;
  }

  /** From the reference point to the head, metres north, east, down. */
  arm(body: Matrix3): [number, number, number] {
    const [x, y, z] = this.mounting.leverArmM;
    return [0, 1, 2].map((k) => body[3 * k] * x + body[3 * k + 1] * y + body[3 * k + 2] * z) as [
      number,
      number,
      number,
    ];
  }
}
