import { tick, part, type Watch } from '../shared/progress';
import { Problem } from '../shared/problem';
import { align, type Alignment } from './alignment';
import { AntennaAid } from './antennaAid';
import { ErrorFilter, STATE, STATES } from './errorFilter';
import { History } from './history';
import { type InertialData } from './inertialData';
import { Mechanisation, STATE_WIDTH, turnBack } from './mechanisation';
import { type AidingPosition, type InertialSettings } from './settings';
import { smooth } from './smoother';
import { startVelocity, withoutMinority } from './believed';
import { type Innovation, type UnitErrors, type InertialSolution } from './solution';
import { standstills } from './standstill';
import { noSlip, standing } from './wheels';

const N = STATES;
/** Seconds between nodes of the smoother. */
const NODE_S = 0.1;
const WHEELS_EVERY_S = 1;
/** Contradicting spans of positions are settled in so many rounds. */
const MOST_ROUNDS = 3;
const DEG = Math.PI / 180;
const MG = 9.80665e-3;
/** What a gap in the unit's data hides, besides half the change across it. */
const GAP_GYRO_RADPS = 0.2 * DEG;
const GAP_ACCEL_MPS2 = 0.3;

/** Width of `covariance` by node: upper triangle of 9 × 9. */
export const NODE_COVARIANCE = 45;
/** Nodes from one estimate of the unit's own errors to the next. */
const UNIT_EVERY = 10;
/** Width of `unit` by node. */
export const UNIT_WIDTH = N - STATE.gyroBias;

/**
 * Position, velocity and attitude of an inertial unit from its own measurements and positions of its antenna (loosely
 * coupled), forward and smoothed: strapdown mechanisation, error-state filter with 29 states, standstill and
 * no-slip updates, fixed-interval smoothing at 10 Hz.
 */
export function navigate(
  data: InertialData,
  positions: AidingPosition[],
  settings: InertialSettings,
  watch?: Watch,
): InertialSolution {
  let believed = positions;
  let run = prepared(data, believed, settings, watch);
  run.go(part(watch, 0.02, 0.45));
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const kept = withoutMinority(believed, run.turns);
    if (kept.length === believed.length) break;
    believed = kept;
    run = prepared(data, believed, settings, watch);
    run.go(part(watch, 0.02, 0.45));
  }
  return run.smoothed(part(watch, 0.45, 1));
}

/** The forward filter alone: its states by sample, from `first` on. */
export function filterOnly(
  data: InertialData,
  positions: AidingPosition[],
  settings: InertialSettings,
  watch?: Watch,
): { first: number; states: Float64Array } {
  const run = prepared(data, positions, settings, watch);
  run.go(part(watch, 0.02, 1));
  return { first: run.first, states: run.states };
}

/** Comparisons of the positions with what the forward filter predicted, none left out. @param nodeS longest step, seconds. */
export function innovationsOf(
  data: InertialData,
  positions: AidingPosition[],
  settings: InertialSettings,
  nodeS: number,
): Innovation[] {
  const run = prepared(data, positions, settings, undefined, nodeS);
  run.go();
  return run.innovations;
}

function prepared(
  data: InertialData,
  positions: AidingPosition[],
  settings: InertialSettings,
  watch?: Watch,
  nodeS = NODE_S,
): ForwardRun {
  const [begin, end] = [data.sow[0], data.sow[data.sow.length - 1]];
  const aiding = positions.filter((a) => a.sow >= begin && a.sow <= end);
  const first = firstSample(data, aiding);
  tick(watch, 0, 'Aligning');
  const alignment = align(data, first, aiding, settings);
  return new ForwardRun(data, first, aiding, settings, alignment, nodeS);
}

/** The last sample before the first position, so that the filter starts with one. */
function firstSample(data: InertialData, aiding: AidingPosition[]): number {
  const n = data.sow.length;
  if (aiding.length === 0 || n < 2)
    throw new Problem('Inertial data and positions do not overlap in time.', {
      code: 'inertial-no-overlap',
      place: n ? `inertial data from ${data.sow[0]} to ${data.sow[n - 1]} s of week ${data.week}` : undefined,
      remedy: 'Choose inertial data of the same session.',
    });
  let low = 0;
  while (low + 1 < n && data.sow[low] < aiding[0].sow - 0.5 / data.rateHz) low++;
  return low;
}

class ForwardRun {
  private readonly m = new Mechanisation();
  private readonly filter: ErrorFilter;
  private readonly aid: AntennaAid;
  private readonly history: History;
  readonly states: Float64Array;
  private readonly unit: UnitErrors;
  private readonly unitAtNode: Float64Array;
  private readonly still: Uint8Array;
  readonly innovations: Innovation[] = [];
  private readonly bridged: InertialSolution['bridged'] = [];
  private readonly nodes: Array<{ sample: number; aid: number }>;
  private node = 0;
  private gapGyro = 0;
  private gapAccel = 0;

  constructor(
    private readonly data: InertialData,
    readonly first: number,
    private readonly aiding: AidingPosition[],
    private readonly settings: InertialSettings,
    private readonly alignment: Alignment,
    nodeS: number,
  ) {
    this.nodes = planNodes(data, first, aiding, nodeS);
    this.history = new History(this.nodes.length);
    this.filter = new ErrorFilter(settings.noise, (m, h, gain, inverse, y) =>
      this.history.putUpdate(this.node, m, h, gain, inverse, y),
    );
    const count = this.nodes[this.nodes.length - 1].sample - first + 1;
    this.states = new Float64Array(STATE_WIDTH * count);
    this.unitAtNode = new Float64Array(UNIT_WIDTH * this.nodes.length);
    const zero = () => new Float64Array(3);
    this.unit = {
      ...{ gyroBias: zero(), accelBias: zero(), gyroScale: zero(), accelScale: zero(), antenna: zero() },
      leverArm: Float64Array.from(settings.leverArmM),
      wheels: new Float64Array(2),
    };
    this.aid = new AntennaAid(this.unit);
    this.still = settings.standstill ? standstills(data, aiding) : new Uint8Array(0);
    this.start();
  }

  private start(): void {
    const { m, unit, alignment, aiding, filter, settings } = this;
    m.c.set(alignment.c);
    const a = aiding[0];
    for (let k = 0; k < 3; k++) {
      const arm = m.c[3 * k] * unit.leverArm[0] + m.c[3 * k + 1] * unit.leverArm[1] + m.c[3 * k + 2] * unit.leverArm[2];
      m.r[k] = a.xyzM[k] - arm;
    }
    const begun = startVelocity(aiding);
    m.v.set(begun.mps);
    const sd = new Float64Array(N);
    const { noise } = settings;
    const up = a.xyzM.map((v) => v / Math.hypot(a.xyzM[0], a.xyzM[1], a.xyzM[2]));
    sd.fill(alignment.levelSdRad, STATE.attitude, STATE.attitude + 3);
    sd.fill(begun.sdMps, STATE.velocity, STATE.velocity + 3);
    sd.fill(1 + 3 * Math.sqrt(Math.max(a.covariance[0], a.covariance[4], a.covariance[8])), STATE.position, 9);
    sd.fill(Math.hypot(noise.gyroBiasDegPerHour, noise.gyroDriftDegPerHour) * (DEG / 3600), STATE.gyroBias, 12);
    sd.fill(Math.hypot(noise.accelBiasMg, noise.accelDriftMg) * MG, STATE.accelBias, STATE.accelBias + 3);
    sd.fill(noise.scalePpm * 1e-6 + 1e-7, STATE.gyroScale, STATE.antenna);
    sd.fill(1, STATE.antenna, STATE.antenna + 3);
    sd.fill(Math.max(1e-5, settings.leverArmSdM), STATE.leverArm, STATE.wheels);
    sd.fill(settings.wheelsSdRad, STATE.wheels, N);
    filter.start(sd);
    // the heading's part of the attitude lies along the vertical
    for (let i = 0; i < 3; i++)
      for (let j = 0; j < 3; j++) filter.p[i * N + j] += up[i] * up[j] * alignment.headingSdRad ** 2;
  }

  /** When the filter had to be taken to be wrong. */
  get turns(): number[] {
    return this.aid.turns;
  }

  go(watch?: Watch): void {
    const { data, m, unit, nodes, first, filter } = this;
    let i = first;
    m.save(this.states, 0);
    this.updates(0, nodes[0]);
    let wheelsAt = -Infinity;
    for (let node = 1; node < nodes.length; node++) {
      if ((node & 127) === 0) tick(watch, node / nodes.length, 'Navigating');
      const { sample, aid } = nodes[node];
      this.node = node;
      this.gapGyro = this.gapAccel = 0;
      while (i < sample) {
        i++;
        const dt = data.sow[i] - data.sow[i - 1];
        if (dt * data.rateHz > 1.5) this.bridge(i, dt);
        else this.advance(i, 1, dt);
        m.save(this.states, STATE_WIDTH * (i - first));
      }
      if (aid >= 0 && this.aid.changesKind(this.aiding[aid])) filter.forgetAntenna();
      const seconds = filter.gatheredS;
      filter.propagate(m.r, this.gapGyro / seconds, this.gapAccel / seconds);
      for (let k = 0; k < 3; k++) unit.antenna[k] *= filter.keep[STATE.antenna];
      this.remember(node);
      this.updates(node, nodes[node]);
      if (data.sow[i] - wheelsAt >= WHEELS_EVERY_S - 0.01) {
        wheelsAt = data.sow[i];
        this.wheels(node, i);
      }
      this.finish(node);
    }
  }

  /** One step of the unit: sample i, or before it a mix with sample i − 1 in a gap; @param u share of sample i. */
  private advance(i: number, u: number, dt: number): void {
    const { gyroRadps: gyro, accelMps2: accel } = this.data;
    const { gyroBias: bg, accelBias: ba, gyroScale: sg, accelScale: sa } = this.unit;
    const g = 3 * i;
    let w0 = gyro[g],
      w1 = gyro[g + 1],
      w2 = gyro[g + 2],
      f0 = accel[g],
      f1 = accel[g + 1],
      f2 = accel[g + 2];
    if (u < 1) {
      const v = 1 - u;
      w0 = u * w0 + v * gyro[g - 3];
      w1 = u * w1 + v * gyro[g - 2];
      w2 = u * w2 + v * gyro[g - 1];
      f0 = u * f0 + v * accel[g - 3];
      f1 = u * f1 + v * accel[g - 2];
      f2 = u * f2 + v * accel[g - 1];
    }
    w0 = (w0 - bg[0]) * (1 - sg[0]);
    w1 = (w1 - bg[1]) * (1 - sg[1]);
    w2 = (w2 - bg[2]) * (1 - sg[2]);
    f0 = (f0 - ba[0]) * (1 - sa[0]);
    f1 = (f1 - ba[1]) * (1 - sa[1]);
    f2 = (f2 - ba[2]) * (1 - sa[2]);
    this.m.step(w0, w1, w2, f0, f1, f2, dt);
    this.filter.gather(this.m, w0, w1, w2, f0, f1, f2, dt);
  }

  /** Steps over missing samples, straight from the last to the next, and adds what that may hide. */
  private bridge(i: number, dt: number): void {
    const { data } = this;
    const pieces = Math.max(1, Math.round(dt * data.rateHz));
    const g = 3 * i;
    const change = (v: Float64Array) => Math.hypot(v[g] - v[g - 3], v[g + 1] - v[g - 2], v[g + 2] - v[g - 1]) / 2;
    this.gapGyro += (change(data.gyroRadps) + GAP_GYRO_RADPS) ** 2 * dt * dt;
    this.gapAccel += (change(data.accelMps2) + GAP_ACCEL_MPS2) ** 2 * dt * dt;
    this.bridged.push({ sow: data.sow[i - 1], lengthS: dt });
    for (let q = 1; q <= pieces; q++) this.advance(i, q / pieces, dt / pieces);
  }

  private remember(node: number): void {
    const { history, filter } = this;
    history.phi.set(filter.phi, node * filter.phi.length);
    history.keep.set(filter.keep, node * N);
  }

  private updates(node: number, plan: { sample: number; aid: number }): void {
    if (plan.aid >= 0) {
      const a = this.aiding[plan.aid];
      const i = plan.sample;
      const g = 3 * i;
      const rate = [0, 1, 2].map((k) => this.data.gyroRadps[g + k] - this.unit.gyroBias[k]);
      const { x, innovation } = this.aid.take(this.filter, this.m, a, a.sow - this.data.sow[i], rate);
      this.innovations.push(innovation);
      if (x) this.takeOut(node, x);
    }
    if (node === 0) this.finish(0);
  }

  private wheels(node: number, i: number): void {
    const { data, filter, m, settings } = this;
    const second = Math.floor(data.sow[i] - 1e-6) - Math.floor(data.sow[0]);
    if (this.still[second]) {
      const x = standing(filter, m);
      if (x) this.takeOut(node, x);
    } else if (settings.noSlip) {
      const rate = [0, 1, 2].map((k) => data.gyroRadps[3 * i + k] - this.unit.gyroBias[k]);
      const x = noSlip(filter, m, settings, rate, this.unit.wheels);
      if (x) this.takeOut(node, x);
    }
  }

  private finish(node: number): void {
    const { history, filter, unit, unitAtNode } = this;
    history.sample[node] = this.nodes[node].sample - this.first;
    history.putCovariance(node, filter.p);
    let at = node * UNIT_WIDTH;
    for (const part of [
      ...[unit.gyroBias, unit.accelBias, unit.gyroScale],
      ...[unit.accelScale, unit.antenna, unit.leverArm, unit.wheels],
    ]) {
      unitAtNode.set(part, at);
      at += part.length;
    }
  }

  /** Takes estimated errors out of the states. */
  private takeOut(node: number, x: Float64Array): void {
    const { m, unit, history } = this;
    for (let k = 0; k < N; k++) history.taken[node * N + k] += x[k];
    turnBack(m.c, 0, x[0], x[1], x[2]);
    for (let k = 0; k < 3; k++) {
      m.v[k] -= x[STATE.velocity + k];
      m.r[k] -= x[STATE.position + k];
      unit.gyroBias[k] -= x[STATE.gyroBias + k];
      unit.accelBias[k] -= x[STATE.accelBias + k];
      unit.gyroScale[k] -= x[STATE.gyroScale + k];
      unit.accelScale[k] -= x[STATE.accelScale + k];
      unit.antenna[k] -= x[STATE.antenna + k];
      unit.leverArm[k] -= x[STATE.leverArm + k];
    }
    for (let k = 0; k < 2; k++) unit.wheels[k] -= x[STATE.wheels + k];
  }

  smoothed(watch?: Watch): InertialSolution {
    const { history, states, first } = this;
    const count = states.length / STATE_WIDTH;
    const covariance = new Float64Array(NODE_COVARIANCE * history.nodes);
    const unitNodes = Int32Array.from(
      { length: Math.ceil(history.nodes / UNIT_EVERY) },
      (_, k) => history.sample[k * UNIT_EVERY],
    );
    const unit = new Float64Array(UNIT_WIDTH * unitNodes.length);
    const unitSd = new Float64Array(unit.length);
    const next = new Float64Array(N);
    const kept = new Float64Array(STATE_WIDTH * unitNodes.length);
    unitNodes.forEach((sample, k) =>
      kept.set(states.subarray(STATE_WIDTH * sample, STATE_WIDTH * (sample + 1)), STATE_WIDTH * k),
    );
    const filtered = { samples: unitNodes.map((s) => s + first), states: kept };
    smooth(
      history,
      (node, after, before, spread) => {
        spread.block(0, 9, covariance, node * NODE_COVARIANCE);
        if (node % UNIT_EVERY === 0)
          for (let k = 0; k < UNIT_WIDTH; k++) {
            const at = (node / UNIT_EVERY) * UNIT_WIDTH + k;
            unit[at] = this.unitAtNode[node * UNIT_WIDTH + k] - after[STATE.gyroBias + k];
            unitSd[at] = Math.sqrt(Math.max(0, spread.variance(STATE.gyroBias + k)));
          }
        // samples after this node up to the next, whose errors run from `after` to what is left there before its updates
        const a = history.sample[node];
        const b = node + 1 < history.nodes ? history.sample[node + 1] : a;
        for (let s = a + 1; s <= b; s++) {
          const u = (s - a) / (b - a);
          correct(states, STATE_WIDTH * s, after, next, u);
        }
        if (node === 0) correct(states, 0, before, before, 0);
        next.set(before);
      },
      watch,
    );
    return {
      ...{ first, count, states, nodes: history.sample, covariance, unitNodes, unit, unitSd },
      filtered,
      ...{ innovations: this.innovations, alignment: this.alignment, bridged: this.bridged },
      axesSdRad: 1e-6 * this.settings.noise.skewPpm,
    };
  }
}

function correct(states: Float64Array, at: number, a: Float64Array, b: Float64Array, u: number): void {
  const e = (k: number) => a[k] + u * (b[k] - a[k]);
  for (let k = 0; k < 3; k++) {
    states[at + k] -= e(STATE.position + k);
    states[at + 3 + k] -= e(STATE.velocity + k);
  }
  turnBack(states, at + 6, e(0), e(1), e(2));
}

/** Samples nearest to the positions, and others so that no two nodes are further apart than `nodeS`. */
function planNodes(data: InertialData, first: number, aiding: AidingPosition[], nodeS: number) {
  const nodes: Array<{ sample: number; aid: number }> = [];
  const half = 0.5 / data.rateHz;
  let aid = 0;
  let last = -Infinity;
  const end = aiding[aiding.length - 1].sow + half;
  for (let i = first; i < data.sow.length && data.sow[i] <= end; i++) {
    while (aid < aiding.length && aiding[aid].sow < data.sow[i] - half - 1e-9) aid++;
    const near = aid < aiding.length && aiding[aid].sow <= data.sow[i] + half;
    if (!near && data.sow[i] - last < nodeS - half) continue;
    nodes.push({ sample: i, aid: near ? aid : -1 });
    last = data.sow[i];
    if (near) aid++;
  }
  return nodes;
}
