import { quaternionFromAngles, rotationFromQuaternion, slerp } from '../../frames/attitude';
import { geodeticToEcef } from '../../frames/ellipsoid';
import { makeLocalMap, type LocalMap } from '../../frames/localMap';
import { type ReferenceSystem } from '../../frames/referenceSystem';
import { Problem } from '../../shared/problem';
import { intervalAt, nominalStepS, type Trajectory } from '../../trajectory/trajectory';

/** The vessel moves at most this far from the node of its local map. */
const NODE_REACH_M = 50;

/**
 * Where a vessel is and how it lies at any time: place by a cubic through positions and velocities (straight where there
 * are none), attitude turned evenly. Places are metres north, east, down of a node nearby; attitudes are against its axes.
 */
export class VesselPath {
  /** The node, with the way on to easting, northing and height. */
  node!: LocalMap;
  /** North, east, down of the node at the time gone to, metres, and the speeds there, m/s. */
  readonly ned = new Float64Array(3);
  readonly velocity = new Float64Array(3);
  /** Body to the node's north, east, down. */
  readonly rotation = new Float64Array(9);
  /** SD of north, east, down (m) and of roll, pitch, heading (rad) there. */
  readonly sd = new Float64Array(6);
  /** About where it is, radians. */
  latRad = 0;
  lonRad = 0;
  private nodeAt = -1;
  private interval = -1;
  private readonly ecef: Float64Array;
  private readonly q = new Float64Array(12);
  private readonly maxStepS: number;

  /** @throws Problem when there are fewer than two epochs, or no attitude. */
  constructor(
    readonly trajectory: Trajectory,
    private readonly system: ReferenceSystem,
  ) {
    const { sow, latRad, lonRad, hEllM, rollRad, pitchRad, headingRad } = trajectory;
    const n = sow.length;
    if (n < 2 || !rollRad || !pitchRad || !headingRad)
      throw new Problem(n < 2 ? 'The trajectory has fewer than two epochs.' : 'The trajectory has no attitude.', {
        code: n < 2 ? 'trajectory-short' : 'trajectory-attitude',
        remedy: 'Choose a trajectory with roll, pitch and heading that covers the lines.',
      });
    this.ecef = new Float64Array(3 * n);
    const one = new Float64Array(3);
    for (let i = 0; i < n; i++) {
      geodeticToEcef(system.ellipsoid, latRad[i], lonRad[i], hEllM[i], one);
      this.ecef.set(one, 3 * i);
    }
    this.maxStepS = Math.max(2.5 * nominalStepS(sow), 0.05);
  }

  private find(t: number): number {
    const { sow } = this.trajectory;
    const k = this.interval;
    if (k >= 0 && t >= sow[k] && t < sow[k + 1]) return k;
    if (k >= 0 && k + 2 < sow.length && t >= sow[k + 1] && t < sow[k + 2]) return k + 1;
    return intervalAt(sow, t);
  }

  /** Goes to a time; the node may change. @returns false outside the trajectory or in a gap of it. */
  goTo(t: number): boolean {
    const { sow } = this.trajectory;
    const i = this.find(t);
    if (i < 0 || sow[i + 1] - sow[i] > this.maxStepS) return false;
    this.interval = i;
    this.latRad = this.trajectory.latRad[i];
    this.lonRad = this.trajectory.lonRad[i];
    if (this.nodeAt < 0 || this.distanceToNode(i) > NODE_REACH_M) {
      const { latRad, lonRad, hEllM } = this.trajectory;
      this.node = makeLocalMap(this.system, latRad[i], lonRad[i], hEllM[i]);
      this.nodeAt = i;
    }
    const dt = sow[i + 1] - sow[i];
    const u = (t - sow[i]) / dt;
    this.placeAt(i, u, dt);
    this.turnTo(i, u, this.rotation);
    const { sdNM, sdEM, sdDM, sdRollRad, sdPitchRad, sdHeadingRad } = this.trajectory;
    [sdNM, sdEM, sdDM, sdRollRad, sdPitchRad, sdHeadingRad].forEach((column, k) => {
      this.sd[k] = column ? column[i] + u * (column[i + 1] - column[i]) : 0;
    });
    return true;
  }

  /** Body to the node's axes at another time nearby, written to `out`; the last known attitude beyond the end. */
  attitudeAt(t: number, out: Float64Array): void {
    const { sow } = this.trajectory;
    const n = sow.length;
    const within = Math.min(Math.max(t, sow[0]), sow[n - 1]);
    const i = this.find(within);
    this.turnTo(i, (within - sow[i]) / (sow[i + 1] - sow[i]), out);
  }

  private placeAt(i: number, u: number, dt: number): void {
    const { vnMps, veMps, vdMps } = this.trajectory;
    const { axes } = this.node;
    const columns = vnMps && veMps && vdMps && [vnMps, veMps, vdMps];
    for (let k = 0; k < 3; k++) {
      const a = this.alongAxis(k, i, axes);
      const b = this.alongAxis(k, i + 1, axes);
      if (!columns) {
        this.ned[k] = a + u * (b - a);
        this.velocity[k] = (b - a) / dt;
        continue;
      }
      const m0 = columns[k][i] * dt;
      const m1 = columns[k][i + 1] * dt;
      const c2 = 3 * (b - a) - 2 * m0 - m1;
      const c3 = 2 * (a - b) + m0 + m1;
      this.ned[k] = a + u * (m0 + u * (c2 + u * c3));
      this.velocity[k] = (m0 + u * (2 * c2 + 3 * u * c3)) / dt;
    }
  }

  private alongAxis(k: number, i: number, axes: Float64Array): number {
    const { originEcef: o } = this.node;
    const e = this.ecef;
    return (
      axes[3 * k] * (e[3 * i] - o[0]) +
      axes[3 * k + 1] * (e[3 * i + 1] - o[1]) +
      axes[3 * k + 2] * (e[3 * i + 2] - o[2])
    );
  }

  private turnTo(i: number, u: number, out: Float64Array): void {
    this.quaternionInNode(i, 0);
    this.quaternionInNode(i + 1, 4);
    slerp(this.q, 0, 4, u, this.q, 8);
    rotationFromQuaternion(this.q, 8, out);
  }

  /** The turn between local level at epoch and node, under 1e-5 rad, to first order. */
  private quaternionInNode(j: number, at: number): void {
    const { latRad, lonRad, rollRad, pitchRad, headingRad } = this.trajectory;
    const { q, nodeAt } = this;
    quaternionFromAngles(rollRad![j], pitchRad![j], headingRad![j], q, at);
    let dLon = lonRad[j] - lonRad[nodeAt];
    if (Math.abs(dLon) > Math.PI) dLon -= 2 * Math.PI * Math.sign(dLon);
    const x = 0.5 * dLon * Math.cos(latRad[nodeAt]);
    const y = 0.5 * (latRad[nodeAt] - latRad[j]);
    const z = -0.5 * dLon * Math.sin(latRad[nodeAt]);
    const [w1, x1, y1, z1] = [q[at], q[at + 1], q[at + 2], q[at + 3]];
    q[at] = w1 - x * x1 - y * y1 - z * z1;
    q[at + 1] = x1 + x * w1 + y * z1 - z * y1;
    q[at + 2] = y1 + y * w1 + z * x1 - x * z1;
    q[at + 3] = z1 + z * w1 + x * y1 - y * x1;
  }

  private distanceToNode(i: number): number {
    const { originEcef: o } = this.node;
    return Math.hypot(this.ecef[3 * i] - o[0], this.ecef[3 * i + 1] - o[1], this.ecef[3 * i + 2] - o[2]);
  }
}
