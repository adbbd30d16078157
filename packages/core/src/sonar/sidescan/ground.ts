import { WEEK_S } from '../../time';
import { DEG } from '../../frames/ellipsoid';
import { applyLocalMap } from '../../frames/localMap';
import { sensorToBody, type SensorMounting } from '../../frames/mounting';
import { gridHeightAt, type HeightGrid } from '../../surface/grid';
import { type VesselPath } from '../reduce/vesselPath';
import { LayeredWater, type Cast } from '../water';
import { type BottomTrack, type SidescanRows } from './recording';

/** Where the samples of a side of a ping lie: the head, and places across by slant range. */
export interface PingGround {
  /** Easting, northing of the head, metres. */
  e: number;
  n: number;
  /** Level direction to starboard, and ahead, in easting and northing. */
  side: readonly [number, number];
  ahead: readonly [number, number];
  /** Metres ahead for each metre down: the fan leans with the pitch. */
  lean: number;
  /** Height of the head in the system, metres. */
  height: number;
  altitudeM: number;
  /** Metres of slant range a sample, and of the first one. */
  rangeStepM: number;
  rangeFirstM: number;
}

/** Places a side-scan's pings: head by trajectory and lever arm, or by layback behind a tow. */
export class SidescanGround {
  private readonly mount: Float64Array;
  private readonly water: LayeredWater;
  private readonly xyz = new Float64Array(3);

  /**
   * @param layback metres that a towed body follows behind; undefined: it hangs under the hull.
   */
  constructor(
    private readonly path: VesselPath,
    private readonly sensor: SensorMounting,
    private readonly latencyS: number,
    private readonly waterlineM: number,
    cast: Cast,
    private readonly layback: number | undefined,
  ) {
    this.mount = sensorToBody(sensor);
    this.water = new LayeredWater(cast);
  }

  /** The ping at a time, with the sample of its first return. @returns undefined outside the path. */
  at(rows: SidescanRows, week: number, i: number, track: BottomTrack): PingGround | undefined {
    const { path, mount: m, sensor, xyz } = this;
    const shift = (week - path.trajectory.week) * WEEK_S;
    const t = rows.sow[i] - this.latencyS + shift;
    if (!path.goTo(t)) return undefined;
    if (this.layback) {
      // a towed body goes where the vessel went: it is where that was when it had the layback still to go
      const speed = Math.hypot(path.velocity[0], path.velocity[1]);
      if (!(speed > 0.1) || !path.goTo(t - this.layback / speed)) return undefined;
    }
    if (!Number.isFinite(path.ned[2])) return undefined;
    const r = path.rotation;
    const [lx, ly, lz] = sensor.leverArmM;
    const arm = [0, 1, 2].map((k) => r[3 * k] * lx + r[3 * k + 1] * ly + r[3 * k + 2] * lz);
    const [n, e, d] = [path.ned[0] + arm[0], path.ned[1] + arm[1], path.ned[2] + arm[2]];
    applyLocalMap(path.node, n, e, d, xyz);
    const c = path.node.c;
    // the head's x axis in north, east, down
    const ax = [0, 1, 2].map((k) => r[3 * k] * m[0] + r[3 * k + 1] * m[3] + r[3 * k + 2] * m[6]);
    const level = Math.hypot(ax[0], ax[1]) || 1;
    const ahead = unit(c[1] * ax[0] + c[2] * ax[1], c[11] * ax[0] + c[12] * ax[1]);
    // to starboard: the direction ahead turned clockwise
    const side = [ahead[1], -ahead[0]] as const;
    const depth = Math.max(0.1, arm[2] - this.waterlineM);
    const timeS = (rows.firstS + track.sample[i] * rows.sampleS) / 2;
    const speedMps = this.meanSpeed(depth, timeS);
    return {
      e: xyz[0],
      n: xyz[1],
      side,
      ahead,
      lean: -ax[2] / level,
      height: xyz[2],
      altitudeM: timeS * speedMps,
      rangeStepM: (rows.sampleS * speedMps) / 2,
      rangeFirstM: (rows.firstS * speedMps) / 2,
    };
  }

  /** Mean speed of sound straight down for a time. */
  private meanSpeed(depthM: number, timeS: number): number {
    this.water.trace(depthM, 0, Math.max(timeS, 1e-4));
    return this.water.downM / Math.max(timeS, 1e-4);
  }
}

const unit = (e: number, n: number): [number, number] => {
  const long = Math.hypot(e, n) || 1;
  return [e / long, n / long];
};

/** Way across for each sample of one side, metres; NaN in the water and where the bed is out of reach. */
export type Spread = (g: PingGround, sign: 1 | -1, samples: number, across: Float64Array, down: Float64Array) => void;

/** On a bed as flat and as deep as under the head: across² = range² − altitude². */
export const flatSpread: Spread = (g, _sign, samples, across, down) => {
  const h = g.altitudeM;
  for (let k = 0; k < samples; k++) {
    const range = g.rangeFirstM + (k + 0.5) * g.rangeStepM;
    across[k] = range > h ? Math.sqrt(range * range - h * h) : Number.NaN;
    down[k] = h;
  }
};

/** Steps across a depth grid, metres. */
const STEP_M = 0.1;

/**
 * On a grid of heights: going outwards, each sample lies where the way to the bed is as long as its range. Where the grid ends
 * the bed is taken on level from there.
 */
export const gridSpread =
  (grid: HeightGrid): Spread =>
  (g, sign, samples, across, down) => {
    across.fill(Number.NaN, 0, samples);
    const most = g.rangeFirstM + samples * g.rangeStepM;
    let k = 0;
    let lastRange = 0;
    let [lastA, lastD] = [0, 0];
    let bed = Number.NaN;
    for (let a = 0; a < most && k < samples; a += STEP_M) {
      const d0 = Number.isNaN(bed) ? g.altitudeM : g.height - bed;
      const e = g.e + sign * a * g.side[0] + d0 * g.lean * g.ahead[0];
      const n = g.n + sign * a * g.side[1] + d0 * g.lean * g.ahead[1];
      const h = gridHeightAt(grid, e, n);
      if (!Number.isNaN(h)) bed = h;
      const d = Number.isNaN(bed) ? g.altitudeM : g.height - bed;
      const range = Math.hypot(a, d);
      // what is nearer than something before is hidden, or another part of the same range: the first counts
      if (range > lastRange) {
        for (; k < samples; k++) {
          const want = g.rangeFirstM + (k + 0.5) * g.rangeStepM;
          if (want > range) break;
          if (a === 0 || want <= lastRange) continue;
          const u = (want - lastRange) / (range - lastRange);
          across[k] = lastA + u * (a - lastA);
          down[k] = lastD + u * (d - lastD);
        }
        lastRange = range;
        lastA = a;
        lastD = d;
      }
    }
  };

/** Angle from the vertical of what lies across and down, degrees. */
export const angleDeg = (across: number, down: number) => Math.atan2(across, down) / DEG;
