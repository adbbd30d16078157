import { anglesFromRotation } from '../frames/attitude';
import { ecefToGeodetic, ecefToNed, GRS80 } from '../frames/ellipsoid';
import { multiply3 } from '../numeric/matrix3';
import { SOLUTIONS, type Trajectory } from '../trajectory/trajectory';
import { type InertialData } from './inertialData';
import { NODE_COVARIANCE, type InertialSolution } from './solution';
import { type AidingPosition } from './settings';

/** Further from a position than this, an epoch is called inertial, seconds. */
const NEAR_S = 0.26;

const INERTIAL = SOLUTIONS.indexOf('inertial');

/**
 * A smoothed solution as a trajectory of the inertial reference point: attitude against north, east and down, with
 * deviations from the nodes, straight in their squares between them.
 * @param every rows: 1 for every sample of the unit, 2 for every second one, and so on.
 * @param drop gives the memory of the solution's states back as they have been read.
 */
export function inertialTrajectory(
  solution: InertialSolution,
  data: InertialData,
  aiding: AidingPosition[],
  every = 1,
  drop = false,
): Trajectory {
  const n = Math.floor((solution.count - 1) / every) + 1;
  const column = () => new Float64Array(n);
  const t = {
    week: data.week,
    sow: column(),
    latRad: column(),
    lonRad: column(),
    hEllM: column(),
    rollRad: column(),
    pitchRad: column(),
    headingRad: column(),
    vnMps: column(),
    veMps: column(),
    vdMps: column(),
    sdNM: column(),
    sdEM: column(),
    sdDM: column(),
    sdRollRad: column(),
    sdPitchRad: column(),
    sdHeadingRad: column(),
    solution: new Uint8Array(n),
    satellites: new Uint8Array(n),
    point: 'imu',
  } satisfies Trajectory;
  // a position that was not believed says nothing of its rows
  const used = new Set(solution.innovations.filter((i) => i.used).map((i) => i.sow));
  const believed = aiding.filter((a) => used.has(a.sow));
  const deviations = new NodeDeviations(solution);
  const geo = new Float64Array(3);
  let near = 0;
  for (let k = 0; k < n; k++) {
    const s = k * every;
    const x = solution.states.at(s);
    if (drop) solution.states.dropBefore(s);
    const sow = data.sow[solution.first + s];
    ecefToGeodetic(GRS80, x[0], x[1], x[2], geo);
    const axes = ecefToNed(geo[0], geo[1]);
    const { rollRad, pitchRad, headingRad } = anglesFromRotation(multiply3(axes, x.subarray(6, 15)));
    t.sow[k] = sow;
    [t.latRad[k], t.lonRad[k], t.hEllM[k]] = geo;
    t.rollRad[k] = rollRad;
    t.pitchRad[k] = pitchRad;
    t.headingRad[k] = headingRad;
    t.vnMps[k] = axes[0] * x[3] + axes[1] * x[4] + axes[2] * x[5];
    t.veMps[k] = axes[3] * x[3] + axes[4] * x[4] + axes[5] * x[5];
    t.vdMps[k] = axes[6] * x[3] + axes[7] * x[4] + axes[8] * x[5];
    const v = deviations.at(s, axes, pitchRad, headingRad);
    t.sdNM[k] = Math.sqrt(v[0]);
    t.sdEM[k] = Math.sqrt(v[1]);
    t.sdDM[k] = Math.sqrt(v[2]);
    t.sdRollRad[k] = Math.sqrt(v[3]);
    t.sdPitchRad[k] = Math.sqrt(v[4]);
    t.sdHeadingRad[k] = Math.hypot(Math.sqrt(v[5]), solution.axesSdRad);
    while (near + 1 < believed.length && Math.abs(believed[near + 1].sow - sow) <= Math.abs(believed[near].sow - sow))
      near++;
    const a = believed[near];
    const inReach = a !== undefined && Math.abs(a.sow - sow) <= NEAR_S;
    t.solution[k] = inReach ? SOLUTIONS.indexOf(a.solution) : INERTIAL;
    t.satellites[k] = inReach ? a.satellites : 0;
  }
  return t;
}

/** Variances of north, east, down, roll, pitch and heading at samples, asked for in order. */
class NodeDeviations {
  private node = 0;
  private readonly a = new Float64Array(6);
  private readonly b = new Float64Array(6);
  private have = -1;
  private readonly out = new Float64Array(6);

  constructor(private readonly s: InertialSolution) {}

  at(sample: number, axes: Float64Array, pitchRad: number, headingRad: number): Float64Array {
    const { nodes } = this.s;
    while (this.node + 2 < nodes.length && nodes[this.node + 1] <= sample) this.node++;
    if (this.have !== this.node) {
      this.read(this.node, axes, pitchRad, headingRad, this.a);
      this.read(Math.min(nodes.length - 1, this.node + 1), axes, pitchRad, headingRad, this.b);
      this.have = this.node;
    }
    const [i, j] = [nodes[this.node], nodes[Math.min(nodes.length - 1, this.node + 1)]];
    const u = j > i ? Math.min(1, (sample - i) / (j - i)) : 0;
    for (let k = 0; k < 6; k++) this.out[k] = this.a[k] + u * (this.b[k] - this.a[k]);
    return this.out;
  }

  private read(node: number, axes: Float64Array, pitchRad: number, headingRad: number, out: Float64Array): void {
    const q = this.s.covariance.subarray(node * NODE_COVARIANCE, (node + 1) * NODE_COVARIANCE);
    // place of (i, j), i ≤ j, in the upper triangle of 9 × 9
    const cell = (i: number, j: number) =>
      i <= j ? i * 9 - (i * (i - 1)) / 2 + j - i : j * 9 - (j * (j - 1)) / 2 + i - j;
    const along = (u: ArrayLike<number>, from: number) => {
      let v = 0;
      for (let i = 0; i < 3; i++) for (let j = 0; j < 3; j++) v += u[i] * q[cell(from + i, from + j)] * u[j];
      return Math.max(0, v);
    };
    for (let k = 0; k < 3; k++) out[k] = along(axes.subarray(3 * k, 3 * k + 3), 6);
    // small rotations about north, east, down as changes of roll, pitch, heading
    const [c, s] = [Math.cos(headingRad), Math.sin(headingRad)];
    const mix = (n: number, e: number, d: number) =>
      Float64Array.from([0, 1, 2], (k) => n * axes[k] + e * axes[3 + k] + d * axes[6 + k]);
    const cosPitch = Math.cos(pitchRad);
    const tan = Math.tan(pitchRad);
    out[3] = along(mix(c / cosPitch, s / cosPitch, 0), 0);
    out[4] = along(mix(-s, c, 0), 0);
    out[5] = along(mix(tan * c, tan * s, 1), 0);
  }
}
