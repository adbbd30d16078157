import { STATE, STATES, type ErrorFilter } from './errorFilter';
import { type Mechanisation } from './mechanisation';
import { type Innovation, type UnitErrors } from './solution';
import { type AidingPosition } from './settings';

const N = STATES;
/** Share of a position's variance that lasts: multipath of a fixed position, ambiguities of a float one. */
const LASTING = { fixed: 0.7, float: 0.95, code: 0.95 } as const;
/**
 * The rest is noise, half of it the base's, whose epochs are fewer and stand behind several positions each: it counts
 * for more than it is.
 */
const SHARED = 2.5;
/** Squared normalised innovation of three coordinates beyond which a position is not believed (one in 10⁵). */
const LIMIT = 26;
/** Positions not believed in a row, over so many seconds, after which the filter, not they, is taken to be wrong. */
const MAX_IN_A_ROW = 12;
const LONGEST_REFUSAL_S = 15;
/** Attitude that a filter which was wrong may be off by, besides its velocity and position, radians. */
const LOST_ATTITUDE_RAD = (2 * Math.PI) / 180;

export type AntennaMemory = ReturnType<AntennaAid['remembered']>;

/** Takes positions of the antenna into the filter, their lasting errors as states of their own. */
export class AntennaAid {
  /** Kind of the last position, those refused since one was used, and when that was. */
  private memory = { kind: '', refused: 0, lastUsed: Number.NaN };
  /** Times of positions from which on the filter was taken to be wrong until then. */
  readonly turns: number[] = [];
  private readonly h = new Float64Array(3 * N);
  private readonly r = new Float64Array(9);
  private readonly root = new Float64Array(9);

  constructor(private readonly unit: UnitErrors) {}

  /** Whether a position is of another kind than the last: its lasting errors then begin anew. */
  changesKind(a: AidingPosition): boolean {
    return this.memory.kind !== '' && a.solution !== this.memory.kind;
  }

  /** What it remembers of the positions so far, to go on from there another time. */
  remembered(): { kind: string; refused: number; lastUsed: number } {
    return { ...this.memory };
  }

  goOnFrom(memory: AntennaMemory): void {
    this.memory = { ...memory };
  }

  /**
   * @param lateS the position's time less that of the state; @param rate angular rate, body axes.
   * @returns errors of the state, undefined when the position is not believed.
   */
  take(
    filter: ErrorFilter,
    m: Mechanisation,
    a: AidingPosition,
    lateS: number,
    rate: ArrayLike<number>,
  ): { x: Float64Array | undefined; innovation: Innovation } {
    const { h, r, root, unit, memory } = this;
    const lasting = LASTING[a.solution];
    memory.kind = a.solution;
    factor(a.covariance, root);
    const l = unit.leverArm;
    // the arm, and how it turns until the position's time
    const moved = [
      l[0] + lateS * (rate[1] * l[2] - rate[2] * l[1]),
      l[1] + lateS * (rate[2] * l[0] - rate[0] * l[2]),
      l[2] + lateS * (rate[0] * l[1] - rate[1] * l[0]),
    ];
    const arm = [0, 1, 2].map((k) => m.c[3 * k] * moved[0] + m.c[3 * k + 1] * moved[1] + m.c[3 * k + 2] * moved[2]);
    h.fill(0);
    const y: [number, number, number] = [0, 0, 0];
    const share = Math.sqrt(lasting);
    for (let k = 0; k < 3; k++) {
      let drawn = 0;
      for (let j = 0; j < 3; j++) {
        const v = share * root[3 * k + j];
        h[k * N + STATE.antenna + j] = v;
        drawn += v * unit.antenna[j];
        h[k * N + STATE.leverArm + j] = m.c[3 * k + j];
        r[3 * k + j] = SHARED * (1 - lasting) * a.covariance[3 * k + j];
      }
      y[k] = m.r[k] + lateS * m.v[k] + arm[k] + drawn - a.xyzM[k];
      h[k * N + STATE.position + k] = 1;
      h[k * N + STATE.velocity + k] = lateS;
    }
    // −[arm×] on the attitude
    h[1] = arm[2];
    h[2] = -arm[1];
    h[N] = -arm[2];
    h[N + 2] = arm[0];
    h[2 * N] = arm[1];
    h[2 * N + 1] = -arm[0];
    let update = filter.update(h, y, r, 3, LIMIT);
    const { squared, logVolume } = update;
    if (Number.isNaN(memory.lastUsed)) memory.lastUsed = a.sow;
    const refusalS = a.sow - memory.lastUsed;
    if (!update.x && ++memory.refused > MAX_IN_A_ROW && refusalS > LONGEST_REFUSAL_S) {
      this.loosen(filter, Math.hypot(...y), refusalS);
      this.turns.push(a.sow);
      update = filter.update(h, y, r, 3, Infinity);
    }
    if (update.x) {
      memory.refused = 0;
      memory.lastUsed = a.sow;
    }
    return { x: update.x, innovation: { sow: a.sow, xyzM: y, squared, logVolume, used: update.x !== undefined } };
  }

  /** Lets the filter be wrong by what positions show it to be. */
  private loosen(filter: ErrorFilter, offM: number, seconds: number): void {
    const variance = (k: number) => {
      if (k < STATE.velocity) return LOST_ATTITUDE_RAD ** 2;
      return k < STATE.position ? 1 + (offM / seconds) ** 2 : offM ** 2;
    };
    for (let k = 0; k < STATE.gyroBias; k++) filter.p[k * (N + 1)] += variance(k);
  }
}

/** Lower triangular root of a 3 × 3 covariance. */
function factor(q: ArrayLike<number>, out: Float64Array): void {
  out.fill(0);
  for (let j = 0; j < 3; j++)
    for (let i = j; i < 3; i++) {
      let s = q[3 * i + j];
      for (let k = 0; k < j; k++) s -= out[3 * i + k] * out[3 * j + k];
      out[3 * i + j] = i === j ? Math.sqrt(Math.max(s, 1e-12)) : s / out[3 * j + j];
    }
}
