import { DEG } from '../../frames/ellipsoid';
import { boresightAxes, boresightSds } from '../../frames/mounting';
import { type LayeredWater } from '../water';
import { type SonarNoise, type Vessel } from '../pings';
import { CauseSums, CAUSES } from './causes';
import { type VesselPath } from './vesselPath';

const N = CAUSES.length;
const AT = Object.fromEntries(CAUSES.map((c, i) => [c, i])) as Record<(typeof CAUSES)[number], number>;

/**
 * Propagated uncertainty of soundings (Hare 1995, "Depth and position error budgets for multibeam echosounding"): each
 * cause is a vector in north, east, down, added in squares along the axes of the grid. Errors of attitude, mounting and
 * angle turn the straight line to the sounding; a cast that is too fast makes the way longer and flatter, a head that
 * measures too fast a speed makes it steeper.
 */
export class Deviations {
  readonly causes = new CauseSums();
  /** Of the last sounding, metres. */
  sdEM = 0;
  sdNM = 0;
  sdHM = 0;
  private readonly lever2: number;
  private readonly angleSd: number;
  private readonly rangeSd: number;
  private readonly latencySd: number;
  /** Axes about which the boresight turns, in the body and in north, east, down, each as long as its deviation in radians. */
  private readonly boresight: Float64Array;
  private readonly mount = new Float64Array(9);
  /** The same for roll, pitch and heading of the vessel. */
  private readonly attitude = new Float64Array(9);
  private readonly grid = new Float64Array(4);
  private readonly place = new Float64Array(3);
  private readonly velocity = new Float64Array(3);
  private rate: readonly number[] = [0, 0, 0];
  private headAxis: readonly number[] = [1, 0, 0];
  private arm: readonly number[] = [0, 0, 0];
  private cast2 = 0;
  private head2 = 0;
  // sums of the sounding at hand
  private vE = 0;
  private vN = 0;
  private vH = 0;
  private bin = 0;

  constructor(vessel: Vessel, noise: SonarNoise) {
    const { roll, pitch, heading } = boresightSds(vessel.sensor);
    const sds = [roll, pitch, heading];
    this.boresight = boresightAxes(vessel.sensor).map((v, k) => v * sds[Math.floor(k / 3)] * DEG);
    this.lever2 = vessel.sensor.leverArmSdM ** 2;
    this.latencySd = vessel.latencySdS;
    this.angleSd = noise.angleSdDeg * DEG;
    this.rangeSd = noise.rangeSdM;
  }

  /**
   * Begins a ping.
   * @param body to north, east, down. @param rate of turn, rad/s. @param headAxis the head's x axis. @param arm to the head,
   * metres; all north, east, down. @param water deviations of speeds as shares of these.
   */
  begin(
    path: VesselPath,
    body: Float64Array,
    rate: readonly number[],
    headAxis: readonly number[],
    arm: readonly number[],
    water: { castSdShare: number; headSdShare: number },
  ): void {
    const { c } = path.node;
    const { grid, place, attitude, mount, boresight, velocity } = this;
    const { sd } = path;
    grid[0] = c[1];
    grid[1] = c[2];
    grid[2] = c[11];
    grid[3] = c[12];
    place[0] = grid[0] * grid[0] * sd[0] ** 2 + grid[1] * grid[1] * sd[1] ** 2;
    place[1] = grid[2] * grid[2] * sd[0] ** 2 + grid[3] * grid[3] * sd[1] ** 2;
    place[2] = sd[2] ** 2;
    velocity.set(path.velocity);
    const level = Math.hypot(body[0], body[3]) || 1;
    for (let k = 0; k < 3; k++) attitude[k] = body[3 * k] * sd[3];
    attitude[3] = (-body[3] / level) * sd[4];
    attitude[4] = (body[0] / level) * sd[4];
    attitude[5] = attitude[6] = attitude[7] = 0;
    attitude[8] = sd[5];
    for (let j = 0; j < 9; j += 3)
      for (let k = 0; k < 3; k++)
        mount[j + k] =
          body[3 * k] * boresight[j] + body[3 * k + 1] * boresight[j + 1] + body[3 * k + 2] * boresight[j + 2];
    this.rate = rate;
    this.headAxis = headAxis;
    this.arm = arm;
    this.cast2 = water.castSdShare ** 2;
    this.head2 = water.headSdShare ** 2;
  }

  /**
   * Deviations of one sounding.
   * @param across, down metres from the head. @param un, ue level direction. @param leanDeg its angle from the vertical at the head.
   * @param water that the ray was followed through last.
   */
  of(across: number, down: number, un: number, ue: number, leanDeg: number, water: LayeredWater): void {
    const { attitude, mount, place, headAxis: a, arm, rate, velocity, latencySd, angleSd, rangeSd, causes } = this;
    this.bin = CauseSums.bin(leanDeg) * N;
    causes.count[this.bin / N]++;
    const vn = across * un,
      ve = across * ue;
    const tn = arm[0] + vn,
      te = arm[1] + ve,
      td = arm[2] + down;
    this.vE = place[0];
    this.vN = place[1];
    this.vH = place[2];
    causes.plan[this.bin + AT.position] += (place[0] + place[1]) / 2;
    causes.height[this.bin + AT.height] += place[2];
    for (let j = 0; j < 9; j += 3) {
      this.turn(AT.attitude, attitude[j], attitude[j + 1], attitude[j + 2], tn, te, td);
      this.turn(AT.mounting, mount[j], mount[j + 1], mount[j + 2], vn, ve, down);
    }
    this.plain(AT.mounting, this.lever2);
    this.add(
      AT.latency,
      latencySd * (velocity[0] + rate[1] * td - rate[2] * te),
      latencySd * (velocity[1] + rate[2] * tn - rate[0] * td),
      latencySd * (velocity[2] + rate[0] * te - rate[1] * tn),
    );
    this.add(AT.range, rangeSd * water.sinEnd * un, rangeSd * water.sinEnd * ue, rangeSd * water.cosEnd);
    this.turn(AT.angle, angleSd * a[0], angleSd * a[1], angleSd * a[2], vn, ve, down);
    const tan2 = (across / down) ** 2;
    const castSd = Math.sqrt(this.cast2),
      headSd = Math.sqrt(this.head2);
    this.add(AT.water, 2 * vn * castSd, 2 * ve * castSd, down * castSd * (1 - tan2));
    this.add(AT.water, vn * headSd, ve * headSd, down * headSd * tan2);
    this.sdEM = Math.sqrt(this.vE);
    this.sdNM = Math.sqrt(this.vN);
    this.sdHM = Math.sqrt(this.vH);
  }

  /** A small turn about an axis (radians, its length) moves what lies at the end of a way. */
  private turn(cause: number, an: number, ae: number, ad: number, n: number, e: number, d: number): void {
    this.add(cause, ae * d - ad * e, ad * n - an * d, an * e - ae * n);
  }

  private add(cause: number, n: number, e: number, d: number): void {
    const { grid, causes } = this;
    const onE = grid[0] * n + grid[1] * e,
      onN = grid[2] * n + grid[3] * e;
    const vE = onE * onE,
      vN = onN * onN,
      vH = d * d;
    this.vE += vE;
    this.vN += vN;
    this.vH += vH;
    causes.plan[this.bin + cause] += (vE + vN) / 2;
    causes.height[this.bin + cause] += vH;
  }

  private plain(cause: number, variance: number): void {
    this.vE += variance;
    this.vN += variance;
    this.vH += variance;
    this.causes.plan[this.bin + cause] += variance;
    this.causes.height[this.bin + cause] += variance;
  }
}
