import { rotationFromAngles } from '../../frames/attitude';
import { geodeticToEcef } from '../../frames/ellipsoid';
import { applyLocalMap, makeLocalMap, type LocalMap } from '../../frames/localMap';
import { boresightAxes, type SensorMounting } from '../../frames/mounting';
import { type ReferenceSystem } from '../../frames/referenceSystem';
import { angleDifference } from '../../trajectory/strips';
import { intervalAt, type Trajectory } from '../../trajectory/trajectory';

/** Unknowns of a head: roll, pitch, heading of the boresight in milliradians; lever arm x, y, z and range offset, metres. */
export const HEAD_SIZE = 7;

/** A node of the map serves moments this near, seconds. */
const NODE_S = 4;

/**
 * How a point moves along a direction when the mounting or the trajectory is changed: the geometry of direct
 * georeferencing to first order (Skaloud & Lichti 2006, eq. 1–4). Angles are the roll, pitch and heading of the
 * mounting's and the trajectory's own formula, so that what is found can be added to them.
 */
export class Partials {
  private readonly nodes = new Map<number, LocalMap>();
  private readonly ecef = new Float64Array(3);
  private readonly at = new Float64Array(3);
  /** Of each head, about which its boresight turns. */
  private readonly axes: Float64Array[];

  constructor(
    private readonly trajectory: Trajectory,
    private readonly system: ReferenceSystem,
    private readonly heads: readonly SensorMounting[],
  ) {
    this.axes = heads.map(boresightAxes);
  }

  /**
   * @param point easting, northing, height of the point. @param normal east, north, up of the direction.
   * @param outHead seven numbers, as {@link HEAD_SIZE} says. @param outPlatform north, east, down; roll, pitch, heading
   * (milliradians) of the trajectory.
   */
  of(
    head: number,
    timeS: number,
    point: readonly [number, number, number],
    normal: readonly [number, number, number],
    outHead: Float64Array,
    outPlatform: Float64Array,
  ): void {
    const { trajectory: tr, at } = this;
    const i = Math.max(0, intervalAt(tr.sow, timeS));
    const u = (timeS - tr.sow[i]) / (tr.sow[i + 1] - tr.sow[i]);
    const mix = (v: Float64Array) => v[i] + u * (v[i + 1] - v[i]);
    const turn = (v: Float64Array) => v[i] + u * angleDifference(v[i + 1], v[i]);
    const map = this.node(i, timeS);
    geodeticToEcef(this.system.ellipsoid, mix(tr.latRad), mix(tr.lonRad), mix(tr.hEllM), this.ecef);
    const p = [0, 1, 2].map((k) =>
      [0, 1, 2].reduce((s, j) => s + map.axes[3 * k + j] * (this.ecef[j] - map.originEcef[j]), 0),
    );
    applyLocalMap(map, p[0], p[1], p[2], at);
    const c = map.c;
    // the direction in north, east, down of the node, and the way from the platform to the point
    const gn = normal[0] * c[1] + normal[1] * c[11];
    const ge = normal[0] * c[2] + normal[1] * c[12];
    const gd = -normal[2];
    const det = c[1] * c[12] - c[2] * c[11];
    const dE = point[0] - at[0];
    const dN = point[1] - at[1];
    const an = (c[12] * dE - c[2] * dN) / det;
    const ae = (c[1] * dN - c[11] * dE) / det;
    const ad = at[2] - point[2];
    const roll = tr.rollRad![i] + u * (tr.rollRad![i + 1] - tr.rollRad![i]);
    const pitch = mix(tr.pitchRad!);
    const heading = turn(tr.headingRad!);
    const r = rotationFromAngles(roll, pitch, heading);
    outPlatform[0] = gn;
    outPlatform[1] = ge;
    outPlatform[2] = gd;
    const about = (x: number, y: number, z: number, vn: number, ve: number, vd: number) =>
      0.001 * (gn * (y * vd - z * ve) + ge * (z * vn - x * vd) + gd * (x * ve - y * vn));
    outPlatform[3] = about(r[0], r[3], r[6], an, ae, ad);
    outPlatform[4] = about(-Math.sin(heading), Math.cos(heading), 0, an, ae, ad);
    outPlatform[5] = about(0, 0, 1, an, ae, ad);
    const { leverArmM: l } = this.heads[head];
    const vn = an - (r[0] * l[0] + r[1] * l[1] + r[2] * l[2]);
    const ve = ae - (r[3] * l[0] + r[4] * l[1] + r[5] * l[2]);
    const vd = ad - (r[6] * l[0] + r[7] * l[1] + r[8] * l[2]);
    const range = Math.hypot(vn, ve, vd);
    const axes = this.axes[head];
    for (let k = 0; k < 3; k++) {
      const at = 3 * k;
      const level = (row: number) => r[row] * axes[at] + r[row + 1] * axes[at + 1] + r[row + 2] * axes[at + 2];
      outHead[k] = about(level(0), level(3), level(6), vn, ve, vd);
    }
    for (let k = 0; k < 3; k++) outHead[3 + k] = gn * r[k] + ge * r[3 + k] + gd * r[6 + k];
    outHead[6] = (gn * vn + ge * ve + gd * vd) / range;
  }

  private node(i: number, timeS: number): LocalMap {
    const key = Math.floor(timeS / NODE_S);
    let map = this.nodes.get(key);
    if (!map) {
      const { latRad, lonRad, hEllM } = this.trajectory;
      this.nodes.set(key, (map = makeLocalMap(this.system, latRad[i], lonRad[i], hEllM[i])));
    }
    return map;
  }
}
