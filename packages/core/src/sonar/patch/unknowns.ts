import { type SharedCell } from './cells';
import { TERMS, type Moving } from './lines';

/** What the path and the water of each line may be off by, 1 SD. */
export interface LineFreedom {
  /** Of the place, metres each way; it may drift. */
  planM: number;
  /** Of the height, which may drift, metres. */
  heightM: number;
  /** Of roll, pitch and heading, degrees, the same along the line. */
  attitudeDeg: readonly [number, number, number];
  /** Of the bend of outer beams, as a share of the speed of sound. */
  bend: number;
}

/** Per line: roll, pitch, heading, bend; then easting, northing and height at each of its knots. */
const CONSTANT = 4;
export const AXES = 3;
/** Places drift with the satellites: one knot every so many seconds, and no more than so many a line. */
const KNOT_S = 10;
const MOST_KNOTS = 40;
const DRIFT_S = 30;

/** Entries of a row: terms, what is constant along a line, both knots beside it. */
export const ENTRIES = TERMS + CONSTANT + 2 * AXES;

/** Numbers of all unknowns: the terms first, then those of each line. */
export class Unknowns {
  readonly size: number;
  /** Weight of each by what it may be; 0 for the terms. */
  readonly prior: Float64Array;
  /** What stands between an unknown and the one AXES further on. */
  readonly bound: Float64Array;
  private readonly firstOf: Int32Array;
  private readonly startS: Float64Array;
  private readonly stepS: Float64Array;
  private readonly knots: Int32Array;
  /** Of the last row. */
  readonly index = new Int32Array(ENTRIES);
  readonly value = new Float64Array(ENTRIES);

  constructor(m: Moving, lines: number, freedom: LineFreedom) {
    this.firstOf = new Int32Array(lines);
    this.startS = new Float64Array(lines).fill(Infinity);
    this.stepS = new Float64Array(lines);
    this.knots = new Int32Array(lines);
    const ends = new Float64Array(lines).fill(-Infinity);
    for (let i = 0; i < m.count; i++) {
      const l = m.line[i];
      if (m.t[i] < this.startS[l]) this.startS[l] = m.t[i];
      if (m.t[i] > ends[l]) ends[l] = m.t[i];
    }
    let size = TERMS;
    for (let l = 0; l < lines; l++) {
      const long = Math.max(1, ends[l] - this.startS[l] || 1);
      this.knots[l] = Math.min(MOST_KNOTS, Math.max(2, Math.round(long / KNOT_S) + 1));
      this.stepS[l] = long / (this.knots[l] - 1);
      this.firstOf[l] = size;
      size += CONSTANT + AXES * this.knots[l];
    }
    this.size = size;
    this.prior = new Float64Array(size);
    this.bound = new Float64Array(size);
    const w = (sd: number) => 1 / Math.max(sd, 1e-9) ** 2;
    const [roll, pitch, heading] = freedom.attitudeDeg;
    for (let l = 0; l < lines; l++) {
      const at = this.firstOf[l];
      this.prior.set([roll, pitch, heading, freedom.bend].map(w), at);
      // a drift that forgets itself over DRIFT_S: neighbours hang together (first-order Gauss–Markov)
      const like = Math.exp(-this.stepS[l] / DRIFT_S);
      const free = 1 / (1 - like * like);
      for (let k = 0; k < this.knots[l]; k++) {
        const inner = k > 0 && k < this.knots[l] - 1;
        [freedom.planM, freedom.planM, freedom.heightM].forEach((sd, axis) => {
          const i = at + CONSTANT + AXES * k + axis;
          this.prior[i] = w(sd) * free * (inner ? 1 + like * like : 1);
          if (k + 1 < this.knots[l]) this.bound[i] = -w(sd) * free * like;
        });
      }
    }
  }

  /** What a sounding's height against the plane of its cell is made of; see {@link index} and {@link value}. */
  row(m: Moving, c: SharedCell, i: number): void {
    const { index, value } = this;
    for (let t = 0; t < TERMS; t++) {
      const o = (i * TERMS + t) * 3;
      index[t] = t;
      value[t] = m.moves[o + 2] - c.slopeX * m.moves[o] - c.slopeY * m.moves[o + 1];
    }
    const l = m.line[i];
    const at = this.firstOf[l];
    for (let k = 0; k < CONSTANT; k++) index[TERMS + k] = at + k;
    // attitude of the path moves a sounding as the mounting does
    for (let t = 0; t < 3; t++) value[TERMS + t] = value[t];
    const tan = Math.tan((m.angleDeg[i] * Math.PI) / 180);
    value[TERMS + 3] = m.down[i] * tan * tan;
    const p = (m.t[i] - this.startS[l]) / this.stepS[l];
    const k = Math.min(this.knots[l] - 2, Math.max(0, Math.floor(p)));
    const u = p - k;
    for (let end = 0; end < 2; end++) {
      const w = end ? u : 1 - u;
      const e = TERMS + CONSTANT + AXES * end;
      const knot = at + CONSTANT + AXES * (k + end);
      for (let axis = 0; axis < AXES; axis++) index[e + axis] = knot + axis;
      value[e] = -w * c.slopeX;
      value[e + 1] = -w * c.slopeY;
      value[e + 2] = w;
    }
  }
}
