import { type Nearby } from '../platform';
import { SITE_ORIGIN_E, SITE_ORIGIN_N } from '../terrain';
import { bedAt } from './bed';

/** Water is cut into slices this thick, in each of which sound is straight, metres. */
const SLICE_M = 0.16;
const SLICES = 110;

/** Where a beam of sound met the bed: way there in seconds, easting, northing, height. */
export interface Met {
  timeS: number;
  eastingM: number;
  northingM: number;
  heightM: number;
  /** How steeply it fell on: height lost by way across. */
  steep: number;
}

/**
 * Sound through water in thin slices of even speed, by Snell's law from slice to slice, until it meets the bed. Each edge of
 * a slice is carried to site coordinates through the surroundings of the boat.
 */
export class Sound {
  private readonly speed = new Float64Array(SLICES);
  readonly met: Met = { timeS: 0, eastingM: 0, northingM: 0, heightM: 0, steep: 0 };
  private readonly at = new Float64Array(3);

  constructor(private readonly bed: (x: number, y: number) => number = bedAt) {}

  /** Takes the water as it is: speed by depth under the head. @param headDepthM under the surface. */
  water(speedAt: (depthM: number) => number, headDepthM: number): void {
    for (let k = 0; k < SLICES; k++) this.speed[k] = speedAt(headDepthM + (k + 0.5) * SLICE_M);
  }

  private grid(near: Nearby, n: number, e: number, d: number): void {
    const { c } = near;
    const [nn, ee, dd, ne, nd, ed] = [n * n, e * e, d * d, n * e, n * d, e * d];
    for (let k = 0; k < 3; k++) {
      const o = 10 * k;
      this.at[k] =
        c[o] +
        c[o + 1] * n +
        c[o + 2] * e +
        c[o + 3] * d +
        c[o + 4] * nn +
        c[o + 5] * ee +
        c[o + 6] * dd +
        c[o + 7] * ne +
        c[o + 8] * nd +
        c[o + 9] * ed;
    }
  }

  /** Height over the bed at metres north, east, down of the surroundings' middle. */
  private over(near: Nearby, n: number, e: number, d: number): number {
    this.grid(near, n, e, d);
    return this.at[2] - this.bed(this.at[0] - SITE_ORIGIN_E, this.at[1] - SITE_ORIGIN_N);
  }

  /**
   * Sends a beam. @param from metres north, east, down of the surroundings' middle. @param way unit vector at the head.
   * @param headSpeed true speed at the head. @returns whether it met the bed; see {@link met}.
   */
  send(near: Nearby, from: readonly number[], way: readonly number[], headSpeed: number): boolean {
    const level = Math.hypot(way[0], way[1]);
    const [un, ue] = level > 1e-12 ? [way[0] / level, way[1] / level] : [1, 0];
    const p = level / headSpeed;
    let [across, time] = [0, 0];
    for (let k = 0; k < SLICES; k++) {
      const c = this.speed[k];
      const sin = p * c;
      if (sin >= 1) return false;
      const cos = Math.sqrt(1 - sin * sin);
      const run = (SLICE_M * sin) / cos;
      const end = across + run;
      const d = from[2] + (k + 1) * SLICE_M;
      if (this.over(near, from[0] + end * un, from[1] + end * ue, d) <= 0) {
        // halving until a tenth of a millimetre along the beam
        let [low, high] = [0, 1];
        for (let i = 0; i < 14; i++) {
          const f = (low + high) / 2;
          const a = across + f * run;
          if (this.over(near, from[0] + a * un, from[1] + a * ue, d - (1 - f) * SLICE_M) > 0) low = f;
          else high = f;
        }
        const a = across + high * run;
        this.over(near, from[0] + a * un, from[1] + a * ue, d - (1 - high) * SLICE_M);
        const { met } = this;
        met.timeS = time + (high * SLICE_M) / (c * cos);
        [met.eastingM, met.northingM, met.heightM] = this.at;
        met.steep = cos / Math.max(sin, 1e-6);
        return true;
      }
      across = end;
      time += SLICE_M / (c * cos);
    }
    return false;
  }
}
