import { WEEK_S } from '../../time';
import { DEG } from '../../frames/ellipsoid';
import { sensorToBody } from '../../frames/mounting';
import { LayeredWater, nearestCast, type Cast, type CastRule } from '../water';
import { type Motion, type Pings, type SonarNoise, type Vessel } from '../pings';
import { type CauseSums } from './causes';
import { Deviations } from './deviations';
import { between } from './heights';
import { type VesselPath } from './vesselPath';

/** Soundings in columns, in the order of pings and beams; only what was detected. */
export interface Soundings {
  count: number;
  eastingM: Float64Array;
  northingM: Float64Array;
  heightM: Float64Array;
  sdEM: Float32Array;
  sdNM: Float32Array;
  sdHM: Float32Array;
  /** From the vertical at the head, positive to starboard, degrees. */
  angleDeg: Float32Array;
  /** Below the head, metres. */
  downM: Float32Array;
  /** In the file, from 0. */
  ping: Uint32Array;
  beam: Uint16Array;
  quality: Uint8Array;
  intensityDb: Float32Array;
  /** GPS seconds since 1980 of transmission, latency taken off. */
  gpsS: Float64Array;
  /** Which cast was used. */
  cast: Uint16Array;
}

/**
 * Soundings from pings: attitude at transmission and at each beam's reception, beam direction from both angles, layered
 * water from the head down, place and height by the second-order map; each with its propagated uncertainty (Hare 1995,
 * "Depth and position error budgets for multibeam echosounding"). The ray begins where the head is at transmission; the
 * one-way time is half of the measured one. d·a = sin(tilt) with a the head's x axis at transmission, d·b = sin(angle)
 * with b its y axis at reception; the angle of d from the vertical enters the water with the speed measured at the head.
 */
export class SoundingReducer {
  /** Pings that lie outside the path or in a gap of it, that met no height, and whose speed at the head was not usable. */
  outsidePings = 0;
  noHeightPings = 0;
  noSurfacePings = 0;
  /** Soundings whose ray turned up before it met anything. */
  turned = 0;
  readonly causes: CauseSums;
  /** Pings by cast, and the largest difference between the speed at the head and that of the cast there, m/s. */
  readonly pingsByCast: Float64Array;
  readonly surfaceOffMps: Float64Array;
  private readonly waters: LayeredWater[];
  private readonly mount: Float64Array;
  private readonly deviations: Deviations;
  private readonly r = Array.from({ length: 3 }, () => new Float64Array(9));

  /**
   * @param path of the vessel, with attitude. @param heave for the head's depth in the water; undefined: none.
   * @param casts at least one.
   */
  constructor(
    private readonly path: VesselPath,
    private readonly vessel: Vessel,
    private readonly casts: readonly Cast[],
    private readonly rule: CastRule,
    private readonly noise: SonarNoise,
    private readonly heave: Pick<Motion, 'week' | 'sow' | 'heaveM'> | undefined,
  ) {
    this.waters = casts.map((c) => new LayeredWater(c));
    this.mount = sensorToBody(vessel.sensor);
    this.deviations = new Deviations(vessel, noise);
    this.causes = this.deviations.causes;
    this.pingsByCast = new Float64Array(casts.length);
    this.surfaceOffMps = new Float64Array(casts.length);
  }

  /** Reduces a block of pings. */
  reduce(pings: Pings): Soundings {
    const { beams } = pings;
    const out = emptySoundings(pings.sow.length * beams);
    for (let i = 0; i < pings.sow.length; i++) this.ping(pings, i, out);
    return out;
  }

  private ping(pings: Pings, i: number, out: Soundings): void {
    const { path, vessel } = this;
    const { beams, travelS, quality, angleDeg } = pings;
    const { trajectory } = path;
    const shift = (pings.week - trajectory.week) * WEEK_S;
    const t0 = pings.sow[i] - vessel.latencyS + shift;
    if (!path.goTo(t0)) {
      this.outsidePings++;
      return;
    }
    const gpsS = pings.week * WEEK_S + pings.sow[i] - vessel.latencyS;
    if (!Number.isFinite(path.ned[2])) {
      this.noHeightPings++;
      return;
    }
    const first = i * beams;
    let longest = 0;
    for (let b = 0; b < beams; b++) {
      const t = travelS[first + b];
      if (quality[first + b] > 0 && t > longest) longest = t;
    }
    if (!(longest > 0)) return;

    // the head at transmission
    const [r0, r1, r2] = this.r;
    r0.set(path.rotation);
    path.attitudeAt(t0 + longest / 2, r1);
    path.attitudeAt(t0 + longest, r2);
    const [lx, ly, lz] = vessel.sensor.leverArmM;
    const armN = r0[0] * lx + r0[1] * ly + r0[2] * lz;
    const armE = r0[3] * lx + r0[4] * ly + r0[5] * lz;
    const armD = r0[6] * lx + r0[7] * ly + r0[8] * lz;
    const heaveM = this.heave
      ? between(this.heave.sow, this.heave.heaveM, t0 + (trajectory.week - this.heave.week) * WEEK_S)
      : 0;
    const depthM = armD - vessel.waterlineM - heaveM;
    const cast = nearestCast(this.casts, this.rule, gpsS, path.latRad, path.lonRad);
    const water = this.waters[cast];
    const castSpeed = water.at(depthM);
    let surface = pings.surfaceMps[i];
    if (!(surface > 1300 && surface < 1700)) {
      surface = castSpeed;
      this.noSurfacePings++;
    } else {
      const off = surface - castSpeed;
      if (Math.abs(off) > Math.abs(this.surfaceOffMps[cast])) this.surfaceOffMps[cast] = off;
    }
    this.pingsByCast[cast]++;

    // the head's axes: x at transmission; y at reception, by a parabola through three times; x at reception for deviations
    const m = this.mount;
    const axis = (r: Float64Array, c: number, k: number) =>
      r[3 * k] * m[c] + r[3 * k + 1] * m[3 + c] + r[3 * k + 2] * m[6 + c];
    const [an, ae, ad] = [axis(r0, 0, 0), axis(r0, 0, 1), axis(r0, 0, 2)];
    const [pn, pe, pd] = [axis(r0, 1, 0), axis(r0, 1, 1), axis(r0, 1, 2)];
    const [qn, qe, qd] = [axis(r1, 1, 0), axis(r1, 1, 1), axis(r1, 1, 2)];
    const [sn, se, sd] = [axis(r2, 1, 0), axis(r2, 1, 1), axis(r2, 1, 2)];
    const tilt = Math.sin(pings.tiltDeg[i] * DEG);

    const c = path.node.c;
    const [n0, e0, d0] = [path.ned[0] + armN, path.ned[1] + armE, path.ned[2] + armD];
    const spin = 1 / longest;
    const { deviations } = this;
    deviations.begin(path, r0, turnBetween(r0, r2, spin), [an, ae, ad], [armN, armE, armD], {
      castSdShare: this.casts[cast].sdMps / castSpeed,
      headSdShare: this.noise.surfaceSpeedSdMps / surface,
    });
    const hasIntensity = pings.intensityDb;
    for (let b = 0; b < beams; b++) {
      const k = first + b;
      const t = travelS[k];
      if (quality[k] === 0 || !(t > 0)) continue;
      const s = t * spin;
      const l0 = (1 - s) * (1 - 2 * s);
      const l1 = 4 * s * (1 - s);
      const l2 = s * (2 * s - 1);
      const bn = l0 * pn + l1 * qn + l2 * sn;
      const be = l0 * pe + l1 * qe + l2 * se;
      const bd = l0 * pd + l1 * qd + l2 * sd;
      const u = Math.sin(angleDeg[k] * DEG);
      const dot = an * bn + ae * be + ad * bd;
      const scale = 1 / (1 - dot * dot);
      const alpha = (tilt - dot * u) * scale;
      const beta = (u - dot * tilt) * scale;
      const rest = 1 - alpha * alpha - beta * beta - 2 * alpha * beta * dot;
      if (!(rest > 0)) {
        this.turned++;
        continue;
      }
      // a × b, as long as the sine of the angle between them, points down
      const gamma = Math.sqrt(rest * scale);
      const dn = alpha * an + beta * bn + gamma * (ae * bd - ad * be);
      const de = alpha * ae + beta * be + gamma * (ad * bn - an * bd);
      const dd = alpha * ad + beta * bd + gamma * (an * be - ae * bn);
      const level = Math.sqrt(dn * dn + de * de);
      if (!(dd > 0)) {
        this.turned++;
        continue;
      }
      water.trace(depthM, level / surface, t / 2);
      const across = water.acrossM;
      const down = water.downM;
      if (!(down > 0)) {
        this.turned++;
        continue;
      }
      const un = level > 1e-12 ? dn / level : 0;
      const ue = level > 1e-12 ? de / level : 0;
      const vn = across * un,
        ve = across * ue;
      const n = n0 + vn,
        e = e0 + ve,
        d = d0 + down;
      const o = out.count;
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

      const leanDeg = Math.acos(dd < 1 ? dd : 1) / DEG;
      deviations.of(across, down, un, ue, leanDeg, water);
      out.sdEM[o] = deviations.sdEM;
      out.sdNM[o] = deviations.sdNM;
      out.sdHM[o] = deviations.sdHM;
      // starboard is where the head's y axis points
      out.angleDeg[o] = leanDeg * (dn * bn + de * be < 0 ? -1 : 1);
      out.downM[o] = down;
      out.ping[o] = pings.first + i;
      out.beam[o] = b;
      out.quality[o] = quality[k];
      out.intensityDb[o] = hasIntensity ? hasIntensity[k] : 0;
      out.gpsS[o] = gpsS;
      out.cast[o] = cast;
      out.count = o + 1;
    }
  }
}

/** Angular rate that turns one attitude into another, both body to north, east, down. @param perS one over the time between. */
function turnBetween(from: Float64Array, to: Float64Array, perS: number): [number, number, number] {
  // to · fromᵀ is a small turn: its antisymmetric part is the vector
  const e = (i: number, j: number) =>
    to[3 * i] * from[3 * j] + to[3 * i + 1] * from[3 * j + 1] + to[3 * i + 2] * from[3 * j + 2];
  return [((e(2, 1) - e(1, 2)) / 2) * perS, ((e(0, 2) - e(2, 0)) / 2) * perS, ((e(1, 0) - e(0, 1)) / 2) * perS];
}

function emptySoundings(n: number): Soundings {
  return {
    count: 0,
    eastingM: new Float64Array(n),
    northingM: new Float64Array(n),
    heightM: new Float64Array(n),
    sdEM: new Float32Array(n),
    sdNM: new Float32Array(n),
    sdHM: new Float32Array(n),
    angleDeg: new Float32Array(n),
    downM: new Float32Array(n),
    ping: new Uint32Array(n),
    beam: new Uint16Array(n),
    quality: new Uint8Array(n),
    intensityDb: new Float32Array(n),
    gpsS: new Float64Array(n),
    cast: new Uint16Array(n),
  };
}
