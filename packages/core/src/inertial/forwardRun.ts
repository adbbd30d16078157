import { tick, type Watch } from '../shared/progress';
import { type Alignment } from './alignment';
import { AntennaAid, type AntennaMemory } from './antennaAid';
import { ErrorFilter, STATE, STATES } from './errorFilter';
import { History } from './history';
import { type InertialData } from './inertialData';
import { Mechanisation, STATE_WIDTH, turnBack } from './mechanisation';
import { planNodes, type Nodes } from './nodes';
import { type AidingPosition, type InertialSettings } from './settings';
import { Smoother } from './smoother';
import { startVelocity } from './believed';
import { NODE_COVARIANCE, UNIT_WIDTH, type Innovation, type InertialSolution, type UnitErrors } from './solution';
import { standstills } from './standstill';
import { StateRows } from './stateRows';
import { noSlip, standing } from './wheels';

const N = STATES;
const WHEELS_EVERY_S = 1;
const DEG = Math.PI / 180;
const MG = 9.80665e-3;
/** What a gap in the unit's data hides, besides half the change across it. */
const GAP_GYRO_RADPS = 0.2 * DEG;
const GAP_ACCEL_MPS2 = 0.3;
/** Nodes from one estimate of the unit's own errors to the next. */
const UNIT_EVERY = 10;
/**
 * Nodes of which the smoother's needs are kept at once: half an hour, 140 MB. Of a longer run each stretch is gone
 * through again when its turn comes.
 */
const STRETCH_NODES = 18_000;

/** What a run is made for. */
export interface RunPurpose {
  /** Longest step between nodes, seconds. */
  nodeS: number;
  /** Smoothed later: what that needs is kept, and every state. */
  smooth?: boolean;
  /** Samples whose filtered states are wanted, ascending. */
  samples?: ArrayLike<number>;
  /** Nodes kept for the smoother at once; fewer in tests. */
  stretchNodes?: number;
}

/** Where a run stands before a node: enough to go on from there again. */
interface Bookmark {
  node: number;
  sample: number;
  wheelsAt: number;
  m: Mechanisation;
  p: Float64Array;
  unit: Float64Array;
  aid: AntennaMemory;
}

/** The filter over the data, from the first sample on, node by node. */
export class ForwardRun {
  private readonly m = new Mechanisation();
  private readonly filter: ErrorFilter;
  private readonly aid: AntennaAid;
  private readonly history: History | undefined;
  private readonly states: StateRows | undefined;
  /** States at the samples that were asked for, before smoothing. */
  readonly sampled: Float64Array;
  private readonly samples: ArrayLike<number>;
  private nextSample = 0;
  private readonly unit: UnitErrors;
  /** Own errors of the unit at every tenth node, before smoothing. */
  private readonly unitKept: Float64Array;
  private readonly still: Uint8Array;
  readonly innovations: Innovation[] = [];
  private readonly bridged: InertialSolution['bridged'] = [];
  private readonly nodes: Nodes;
  private readonly stretch: number;
  private readonly bookmarks: Bookmark[] = [];
  /** Going through a stretch again: what was told then is not told twice. */
  private again = false;
  private node = 0;
  private sample: number;
  private wheelsAt = -Infinity;
  private gapGyro = 0;
  private gapAccel = 0;

  constructor(
    private readonly data: InertialData,
    readonly first: number,
    private readonly aiding: AidingPosition[],
    private readonly settings: InertialSettings,
    private readonly alignment: Alignment,
    purpose: RunPurpose,
  ) {
    this.nodes = planNodes(data, first, aiding, purpose.nodeS);
    this.sample = first;
    const { count } = this.nodes;
    this.stretch = purpose.stretchNodes ?? STRETCH_NODES;
    const unitNodes = Math.ceil(count / UNIT_EVERY);
    if (purpose.smooth) {
      this.history = new History(Math.min(count, this.stretch));
      this.states = new StateRows(this.nodes.sample[count - 1] - first + 1);
    }
    this.samples =
      purpose.samples ??
      (purpose.smooth ? Int32Array.from({ length: unitNodes }, (_, k) => this.nodes.sample[k * UNIT_EVERY]) : []);
    while (this.nextSample < this.samples.length && this.samples[this.nextSample] < first) this.nextSample++;
    this.sampled = new Float64Array(STATE_WIDTH * this.samples.length);
    this.filter = new ErrorFilter(settings.noise, (m, h, gain, inverse, y) =>
      this.history?.putUpdate(this.node, m, h, gain, inverse, y),
    );
    this.unitKept = new Float64Array(purpose.smooth ? UNIT_WIDTH * unitNodes : 0);
    const zero = () => new Float64Array(3);
    this.unit = {
      gyroBias: zero(),
      accelBias: zero(),
      gyroScale: zero(),
      accelScale: zero(),
      antenna: zero(),
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

  /** The whole run, once. */
  go(watch?: Watch): void {
    const { nodes, stretch } = this;
    for (let from = 0; from < nodes.count; from += stretch) {
      if (this.history) this.bookmarks.push(this.bookmark(from));
      this.through(from, Math.min(nodes.count, from + stretch), watch);
    }
  }

  /** Nodes `from` to `to`, as far as the run stands before the first of them. */
  private through(from: number, to: number, watch?: Watch): void {
    const { data, m, unit, nodes, filter } = this;
    this.history?.begin(from, to);
    for (let node = from; node < to; node++) {
      if ((node & 127) === 0 && !this.again) tick(watch, node / nodes.count, 'Navigating');
      this.node = node;
      if (node === 0) {
        this.keep(this.sample);
        this.updates(0);
        this.finish(0);
        continue;
      }
      const aid = nodes.aid[node];
      this.gapGyro = this.gapAccel = 0;
      while (this.sample < nodes.sample[node]) {
        const i = ++this.sample;
        const dt = data.sow[i] - data.sow[i - 1];
        if (dt * data.rateHz > 1.5) this.bridge(i, dt);
        else this.advance(i, 1, dt);
        this.keep(i);
      }
      if (aid >= 0 && this.aid.changesKind(this.aiding[aid])) filter.forgetAntenna();
      const seconds = filter.gatheredS;
      filter.propagate(m.r, this.gapGyro / seconds, this.gapAccel / seconds);
      for (let k = 0; k < 3; k++) unit.antenna[k] *= filter.keep[STATE.antenna];
      this.history?.putTransition(node, filter.phi, filter.keep);
      this.updates(node);
      const i = this.sample;
      if (data.sow[i] - this.wheelsAt >= WHEELS_EVERY_S - 0.01) {
        this.wheelsAt = data.sow[i];
        this.wheels(node, i);
      }
      this.finish(node);
    }
  }

  /** Keeps the state of a sample where it is wanted: as it is before the updates there. */
  private keep(i: number): void {
    const { m, states, first, samples } = this;
    if (states) m.save(states.piece(i - first), states.place(i - first));
    if (this.again) return;
    while (this.nextSample < samples.length && samples[this.nextSample] <= i)
      m.save(this.sampled, STATE_WIDTH * this.nextSample++);
  }

  private bookmark(node: number): Bookmark {
    const m = new Mechanisation();
    m.copyFrom(this.m);
    return {
      node,
      sample: this.sample,
      wheelsAt: this.wheelsAt,
      m,
      p: this.filter.p.slice(),
      unit: flat(this.unit),
      aid: this.aid.remembered(),
    };
  }

  private returnTo(mark: Bookmark): void {
    this.sample = mark.sample;
    this.wheelsAt = mark.wheelsAt;
    this.m.copyFrom(mark.m);
    this.filter.p.set(mark.p);
    this.aid.goOnFrom(mark.aid);
    let at = 0;
    for (const part of partsOf(this.unit)) {
      part.set(mark.unit.subarray(at, at + part.length));
      at += part.length;
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
    if (!this.again) this.bridged.push({ sow: data.sow[i - 1], lengthS: dt });
    for (let q = 1; q <= pieces; q++) this.advance(i, q / pieces, dt / pieces);
  }

  private updates(node: number): void {
    const aid = this.nodes.aid[node];
    if (aid < 0) return;
    const a = this.aiding[aid];
    const i = this.nodes.sample[node];
    const g = 3 * i;
    const rate = [0, 1, 2].map((k) => this.data.gyroRadps[g + k] - this.unit.gyroBias[k]);
    const { x, innovation } = this.aid.take(this.filter, this.m, a, a.sow - this.data.sow[i], rate);
    if (!this.again) this.innovations.push(innovation);
    if (x) this.takeOut(node, x);
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
    this.history?.putCovariance(node, this.filter.p);
    if (this.unitKept.length && node % UNIT_EVERY === 0)
      this.unitKept.set(flat(this.unit), (node / UNIT_EVERY) * UNIT_WIDTH);
  }

  /** Takes estimated errors out of the states. */
  private takeOut(node: number, x: Float64Array): void {
    const { m, unit, history } = this;
    const taken = history?.takenAt(node);
    if (taken) for (let k = 0; k < N; k++) taken[k] += x[k];
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

  /** What the whole run says of each sample. Only of a run that is for smoothing, once it has gone. */
  smoothed(watch?: Watch): InertialSolution {
    const { history, states, first, nodes } = this;
    if (!history || !states) throw new Error('not a run for smoothing');
    const { count } = nodes;
    const covariance = new Float64Array(NODE_COVARIANCE * count);
    const unitNodes = Int32Array.from(
      { length: Math.ceil(count / UNIT_EVERY) },
      (_, k) => nodes.sample[k * UNIT_EVERY] - first,
    );
    const unit = new Float64Array(UNIT_WIDTH * unitNodes.length);
    const unitSd = new Float64Array(unit.length);
    const next = new Float64Array(N);
    const smoother = new Smoother((node, after, before, spread) => {
      spread.block(0, 9, covariance, node * NODE_COVARIANCE);
      if (node % UNIT_EVERY === 0)
        for (let k = 0; k < UNIT_WIDTH; k++) {
          const at = (node / UNIT_EVERY) * UNIT_WIDTH + k;
          unit[at] = this.unitKept[at] - after[STATE.gyroBias + k];
          unitSd[at] = Math.sqrt(Math.max(0, spread.variance(STATE.gyroBias + k)));
        }
      // samples after this node up to the next, whose errors run from `after` to what is left there before its updates
      const a = nodes.sample[node] - first;
      const b = node + 1 < count ? nodes.sample[node + 1] - first : a;
      for (let s = a + 1; s <= b; s++) correct(states.piece(s), states.place(s), after, next, (s - a) / (b - a));
      if (node === 0) correct(states.piece(0), 0, before, before, 0);
      next.set(before);
    });
    // the last stretch is still there, the others are gone through again
    this.again = true;
    for (let k = this.bookmarks.length - 1; k >= 0; k--) {
      const mark = this.bookmarks[k];
      if (history.from !== mark.node) {
        this.returnTo(mark);
        this.through(mark.node, this.bookmarks[k + 1].node);
      }
      smoother.over(history, count, watch);
    }
    return {
      first,
      count: states.count,
      states,
      covariance,
      unitNodes,
      unit,
      unitSd,
      nodes: nodes.sample.map((s) => s - first),
      filtered: { samples: Int32Array.from(this.samples), states: this.sampled },
      innovations: this.innovations,
      alignment: this.alignment,
      bridged: this.bridged,
      axesSdRad: 1e-6 * this.settings.noise.skewPpm,
    };
  }
}

/** Parts of the unit's errors as they stand in a row, `UNIT_WIDTH` numbers. */
const partsOf = (u: UnitErrors): Float64Array[] => [
  u.gyroBias,
  u.accelBias,
  u.gyroScale,
  u.accelScale,
  u.antenna,
  u.leverArm,
  u.wheels,
];

function flat(unit: UnitErrors): Float64Array {
  const out = new Float64Array(UNIT_WIDTH);
  let at = 0;
  for (const part of partsOf(unit)) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}

function correct(states: Float64Array, at: number, a: Float64Array, b: Float64Array, u: number): void {
  const e = (k: number) => a[k] + u * (b[k] - a[k]);
  for (let k = 0; k < 3; k++) {
    states[at + k] -= e(STATE.position + k);
    states[at + 3 + k] -= e(STATE.velocity + k);
  }
  turnBack(states, at + 6, e(0), e(1), e(2));
}
