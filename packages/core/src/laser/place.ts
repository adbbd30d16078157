import { quaternionFromAngles } from '../frames/attitude';
import { DEG, geodeticToEcef } from '../frames/ellipsoid';
import { makeLocalMap, type LocalMap } from '../frames/localMap';
import { boresightAxes, boresightSds, sensorToBody, type SensorMounting } from '../frames/mounting';
import { type ReferenceSystem } from '../frames/referenceSystem';
import { Problem } from '../shared/problem';
import { sinCosDeg } from '../numeric/sinCos';
import { intervalAt, nominalStepS, type Trajectory } from '../trajectory/trajectory';
import { emptyPoints, type PlacedPoints } from './placedPoints';
import { type LaserNoise, type LaserReturns } from './returns';

/** Platform moves at most this far from the node of its local map. */
const NODE_REACH_M = 50;

/**
 * Direct georeferencing: platform position (cubic Hermite where velocities are known) and attitude (interpolated as
 * a rotation) at each return, lever arm, mounting and range, then the second-order map to easting, northing and
 * height. Standard deviations are propagated to first order from trajectory, boresight, lever arm, range and
 * angle (Glennie 2007, "Rigorous 3D error analysis of kinematic scanning LIDAR systems").
 */
export class Placer {
  private readonly ecef: Float64Array;
  private readonly maxStepS: number;
  private readonly mount: Float64Array;
  private interval = -2;
  private node: LocalMap | undefined;
  /** The epoch whose position is the node. */
  private nodeAt = 0;
  /** Rotation body to node's north, east, down at both ends of the interval, as quaternions. */
  private readonly q = new Float64Array(8);
  /** Position in the node's frame: four polynomial coefficients for each of n, e, d. */
  private readonly p = new Float64Array(12);
  private readonly sd = new Float64Array(6);
  private readonly angle = new Float64Array(2);
  private readonly turn = new Float64Array(4);
  /** Axes about which roll, pitch and heading of the boresight turn in the body, each as long as its deviation in radians. */
  private readonly apart: Float64Array;

  constructor(
    private readonly trajectory: Trajectory,
    private readonly system: ReferenceSystem,
    private readonly mounting: SensorMounting,
    private readonly noise: LaserNoise,
  ) {
    const n = trajectory.sow.length;
    if (n < 2)
      throw new Problem('The trajectory has fewer than two epochs.', {
        code: 'trajectory-short',
        remedy: 'Choose a trajectory that covers the laser returns.',
      });
    if (!trajectory.rollRad || !trajectory.pitchRad || !trajectory.headingRad)
      throw new Problem('The trajectory has no attitude (roll, pitch, heading).', {
        code: 'trajectory-attitude',
        remedy: 'Choose a trajectory computed with inertial data.',
      });
    this.ecef = new Float64Array(3 * n);
    const one = new Float64Array(3);
    for (let i = 0; i < n; i++) {
      geodeticToEcef(system.ellipsoid, trajectory.latRad[i], trajectory.lonRad[i], trajectory.hEllM[i], one);
      this.ecef.set(one, 3 * i);
    }
    this.maxStepS = Math.max(nominalStepS(trajectory.sow) * 2.5, 0.05);
    this.mount = sensorToBody(mounting);
    const { roll, pitch, heading } = boresightSds(mounting);
    const sds = [roll, pitch, heading];
    this.apart = boresightAxes(mounting).map((v, k) => v * sds[Math.floor(k / 3)] * DEG);
  }

  /**
   * Places returns [from, to). Blocks may come in any order; time order is fastest.
   * @param reuse points of an earlier block that are no longer needed: overwritten when of the same number.
   */
  place(returns: LaserReturns, from = 0, to = returns.sow.length, reuse?: PlacedPoints): PlacedPoints {
    const count = to - from;
    const out = reuse?.eastingM.length === count ? reuse : emptyPoints(count);
    out.outside = 0;
    this.placeInto(returns, from, to, out);
    return out;
  }

  private placeInto(returns: LaserReturns, from: number, to: number, out: PlacedPoints): void {
    const { sow } = this.trajectory;
    const shift = (returns.week - this.trajectory.week) * 604800;
    const m0 = this.mount[0],
      m1 = this.mount[1],
      m2 = this.mount[2];
    const m3 = this.mount[3],
      m4 = this.mount[4],
      m5 = this.mount[5];
    const m6 = this.mount[6],
      m7 = this.mount[7],
      m8 = this.mount[8];
    const [lx, ly, lz] = this.mounting.leverArmM;
    const offset = this.mounting.rangeOffsetM ?? 0;
    const varLever = this.mounting.leverArmSdM ** 2;
    const each = boresightSds(this.mounting);
    const alike = each.roll === each.pitch && each.pitch === each.heading;
    // one deviation for all angles: a sphere about the beam; else each angle about its own axis in the body
    const varBore = alike ? (each.roll * DEG) ** 2 : 0;
    const { apart } = this;
    let moreE = 0,
      moreN = 0,
      moreH = 0;
    const varRange = this.noise.rangeSdM ** 2;
    const varAngle = (this.noise.angleSdDeg * DEG) ** 2;
    const { q, p, sd } = this;
    const angle = this.angle;
    const { azimuthDeg, elevationDeg, rangeM } = returns;
    const times = returns.sow;
    let start = Number.POSITIVE_INFINITY;
    let end = Number.NEGATIVE_INFINITY;
    let scale = 0;
    let c = new Float64Array(30);
    if (this.interval >= 0 && this.node) {
      start = sow[this.interval];
      end = sow[this.interval + 1];
      scale = 1 / (end - start);
      c = this.node.c as Float64Array<ArrayBuffer>;
    }
    for (let i = from; i < to; i++) {
      const t = times[i] + shift;
      const o = i - from;
      if (!(t >= start && t < end)) {
        const found = this.enter(t);
        if (found < 0) {
          out.eastingM[o] = out.northingM[o] = out.heightM[o] = Number.NaN;
          out.interval[o] = -1;
          out.outside++;
          start = Number.POSITIVE_INFINITY;
          continue;
        }
        start = sow[found];
        end = sow[found + 1];
        scale = 1 / (end - start);
        c = this.node!.c as Float64Array<ArrayBuffer>;
      }
      out.interval[o] = this.interval;
      const u = (t - start) * scale;
      const v = 1 - u;
      let qw = v * q[0] + u * q[4];
      let qx = v * q[1] + u * q[5];
      let qy = v * q[2] + u * q[6];
      let qz = v * q[3] + u * q[7];
      const norm = 1 / Math.sqrt(qw * qw + qx * qx + qy * qy + qz * qz);
      qw *= norm;
      qx *= norm;
      qy *= norm;
      qz *= norm;
      const r00 = 1 - 2 * (qy * qy + qz * qz),
        r01 = 2 * (qx * qy - qw * qz),
        r02 = 2 * (qx * qz + qw * qy);
      const r10 = 2 * (qx * qy + qw * qz),
        r11 = 1 - 2 * (qx * qx + qz * qz),
        r12 = 2 * (qy * qz - qw * qx);
      const r20 = 2 * (qx * qz - qw * qy),
        r21 = 2 * (qy * qz + qw * qx),
        r22 = 1 - 2 * (qx * qx + qy * qy);

      sinCosDeg(elevationDeg[i], angle);
      const sz = -angle[0];
      const ce = angle[1];
      sinCosDeg(azimuthDeg[i], angle);
      const sx = ce * angle[1];
      const sy = ce * angle[0];
      const range = rangeM[i] + offset;
      // beam direction in the body, then in the node's north, east, down
      const bx = m0 * sx + m1 * sy + m2 * sz;
      const by = m3 * sx + m4 * sy + m5 * sz;
      const bz = m6 * sx + m7 * sy + m8 * sz;
      const un = r00 * bx + r01 * by + r02 * bz;
      const ue = r10 * bx + r11 * by + r12 * bz;
      const ud = r20 * bx + r21 * by + r22 * bz;
      const an = r00 * lx + r01 * ly + r02 * lz;
      const ae = r10 * lx + r11 * ly + r12 * lz;
      const ad = r20 * lx + r21 * ly + r22 * lz;
      const wn = un * range,
        we = ue * range,
        wd = ud * range;
      const n = p[0] + u * (p[1] + u * (p[2] + u * p[3])) + an + wn;
      const e = p[4] + u * (p[5] + u * (p[6] + u * p[7])) + ae + we;
      const d = p[8] + u * (p[9] + u * (p[10] + u * p[11])) + ad + wd;
      out.eastingM[o] =
        c[0] + n * (c[1] + c[4] * n + c[7] * e + c[8] * d) + e * (c[2] + c[5] * e + c[9] * d) + d * (c[3] + c[6] * d);
      out.northingM[o] =
        c[10] +
        n * (c[11] + c[14] * n + c[17] * e + c[18] * d) +
        e * (c[12] + c[15] * e + c[19] * d) +
        d * (c[13] + c[16] * d);
      out.heightM[o] =
        c[20] +
        n * (c[21] + c[24] * n + c[27] * e + c[28] * d) +
        e * (c[22] + c[25] * e + c[29] * d) +
        d * (c[23] + c[26] * d);

      // standard deviations: each error source as a vector in north, east, down, then along grid axes
      const tn = wn + an,
        te = we + ae,
        td = wd + ad;
      // roll about the body's x axis, heading about down, pitch about the horizontal axis between them
      const hn = -te,
        he = tn;
      const ch = Math.sqrt(r00 * r00 + r10 * r10);
      const yn = -r10 / ch,
        ye = r00 / ch;
      const pn = ye * td,
        pe = -yn * td,
        pd = yn * te - ye * tn;
      const rn = r10 * td - r20 * te,
        re = r20 * tn - r00 * td,
        rd = r00 * te - r10 * tn;
      const g00 = c[2],
        g01 = c[1],
        g10 = c[12],
        g11 = c[11];
      const varRoll = sd[3],
        varPitch = sd[4],
        varHeading = sd[5];
      const hE = g01 * hn + g00 * he,
        hN = g11 * hn + g10 * he;
      const pE = g01 * pn + g00 * pe,
        pN = g11 * pn + g10 * pe;
      const rE = g01 * rn + g00 * re,
        rN = g11 * rn + g10 * re;
      const uE = g01 * un + g00 * ue,
        uN = g11 * un + g10 * ue;
      if (!alike) {
        moreE = moreN = moreH = 0;
        for (let k = 0; k < 9; k += 3) {
          const x = apart[k + 1] * bz - apart[k + 2] * by,
            y = apart[k + 2] * bx - apart[k] * bz,
            z = apart[k] * by - apart[k + 1] * bx;
          const mn = range * (r00 * x + r01 * y + r02 * z),
            me = range * (r10 * x + r11 * y + r12 * z),
            md = range * (r20 * x + r21 * y + r22 * z);
          moreE += (g01 * mn + g00 * me) ** 2;
          moreN += (g11 * mn + g10 * me) ** 2;
          moreH += md * md;
        }
      }
      const across = varAngle * range * range;
      // boresight about the body axes, the same SD for each: variance of the vector perpendicular to the beam
      const bore = varBore * range * range;
      const sideways = across + bore;
      const along = varRange - sideways;
      const g01s = g01 * g01,
        g00s = g00 * g00,
        g10s = g10 * g10,
        g11s = g11 * g11;
      out.sdEM[o] = Math.sqrt(
        g01s * sd[0] +
          g00s * sd[1] +
          varHeading * hE * hE +
          varPitch * pE * pE +
          varRoll * rE * rE +
          sideways +
          along * uE * uE +
          varLever +
          moreE,
      );
      out.sdNM[o] = Math.sqrt(
        g11s * sd[0] +
          g10s * sd[1] +
          varHeading * hN * hN +
          varPitch * pN * pN +
          varRoll * rN * rN +
          sideways +
          along * uN * uN +
          varLever +
          moreN,
      );
      out.sdHM[o] = Math.sqrt(
        sd[2] + varPitch * pd * pd + varRoll * rd * rd + sideways + along * ud * ud + varLever + moreH,
      );
    }
  }

  /** Makes the interval that holds t current; −1 when there is none or its gap is too long. */
  private enter(t: number): number {
    const { sow } = this.trajectory;
    let i = this.interval + 1;
    if (!(i >= 0 && i < sow.length - 1 && t >= sow[i] && t < sow[i + 1])) i = intervalAt(sow, t);
    if (i < 0 || sow[i + 1] - sow[i] > this.maxStepS) {
      this.interval = -2;
      return -1;
    }
    this.prepare(i);
    this.interval = i;
    return i;
  }

  private prepare(i: number): void {
    const { trajectory: tr, ecef } = this;
    const moved = !this.node || this.distanceToNode(i) > NODE_REACH_M;
    if (moved) {
      this.node = makeLocalMap(this.system, tr.latRad[i], tr.lonRad[i], tr.hEllM[i]);
      this.nodeAt = i;
    }
    const { originEcef, axes } = this.node!;
    const dt = tr.sow[i + 1] - tr.sow[i];
    // the end of the last interval is the start of this one
    const follows = !moved && i === this.interval + 1;
    if (follows) this.q.copyWithin(0, 4, 8);
    for (let end = follows ? 1 : 0; end < 2; end++) this.attitudeInNode(i + end, 4 * end);
    const dot = this.q[0] * this.q[4] + this.q[1] * this.q[5] + this.q[2] * this.q[6] + this.q[3] * this.q[7];
    if (dot < 0) for (let k = 4; k < 8; k++) this.q[k] = -this.q[k];
    const velocity = tr.vnMps && tr.veMps && tr.vdMps;
    for (let k = 0; k < 3; k++) {
      const p0 = along(axes, k, ecef, 3 * i, originEcef);
      const p1 = along(axes, k, ecef, 3 * (i + 1), originEcef);
      const at = 4 * k;
      this.p[at] = p0;
      if (velocity) {
        const column = k === 0 ? tr.vnMps! : k === 1 ? tr.veMps! : tr.vdMps!;
        const m0 = column[i] * dt;
        const m1 = column[i + 1] * dt;
        this.p[at + 1] = m0;
        this.p[at + 2] = 3 * (p1 - p0) - 2 * m0 - m1;
        this.p[at + 3] = 2 * (p0 - p1) + m0 + m1;
      } else {
        this.p[at + 1] = p1 - p0;
        this.p[at + 2] = this.p[at + 3] = 0;
      }
    }
    const square = (column: Float64Array | undefined) => (column ? ((column[i] + column[i + 1]) / 2) ** 2 : 0);
    this.sd[0] = square(tr.sdNM);
    this.sd[1] = square(tr.sdEM);
    this.sd[2] = square(tr.sdDM);
    this.sd[3] = square(tr.sdRollRad);
    this.sd[4] = square(tr.sdPitchRad);
    this.sd[5] = square(tr.sdHeadingRad);
  }

  /**
   * Body to the node's north, east, down at epoch j, as a quaternion at q[at…]. The local level frames of epoch and
   * node are within 50 m, so turned by under 1e-5 rad: the turn to first order is good to 1e-10 rad.
   */
  private attitudeInNode(j: number, at: number): void {
    const { trajectory: tr, nodeAt, q, turn } = this;
    quaternionFromAngles(tr.rollRad![j], tr.pitchRad![j], tr.headingRad![j], turn);
    const lat = tr.latRad[nodeAt];
    let dLon = tr.lonRad[j] - tr.lonRad[nodeAt];
    if (Math.abs(dLon) > Math.PI) dLon -= 2 * Math.PI * Math.sign(dLon);
    const x = 0.5 * dLon * Math.cos(lat);
    const y = 0.5 * (lat - tr.latRad[j]);
    const z = -0.5 * dLon * Math.sin(lat);
    const w1 = turn[0],
      x1 = turn[1],
      y1 = turn[2],
      z1 = turn[3];
    q[at] = w1 - x * x1 - y * y1 - z * z1;
    q[at + 1] = x1 + x * w1 + y * z1 - z * y1;
    q[at + 2] = y1 + y * w1 + z * x1 - x * z1;
    q[at + 3] = z1 + z * w1 + x * y1 - y * x1;
  }

  private distanceToNode(i: number): number {
    const o = this.node!.originEcef;
    return Math.hypot(this.ecef[3 * i] - o[0], this.ecef[3 * i + 1] - o[1], this.ecef[3 * i + 2] - o[2]);
  }
}

function along(axes: Float64Array, row: number, ecef: Float64Array, at: number, origin: Float64Array): number {
  return (
    axes[3 * row] * (ecef[at] - origin[0]) +
    axes[3 * row + 1] * (ecef[at + 1] - origin[1]) +
    axes[3 * row + 2] * (ecef[at + 2] - origin[2])
  );
}
