import { COUPLED, PACKED, STATES } from './errorFilter';

const N = STATES;
/** Numbers of one update: design 3 × N, gain 3 × N, inverse variance 3 × 3, innovation 3. */
const UPDATE_WIDTH = 6 * N + 12;

/** What the smoother needs of a forward run: transitions and covariances by node, and every update. */
export class History {
  /** Samples of the nodes. */
  readonly sample: Int32Array;
  /** Covariances after the updates of a node, upper triangles. */
  readonly p: Float64Array;
  /** Coupled rows of the transition to a node from the one before, and the diagonal of the other states. */
  readonly phi: Float64Array;
  readonly keep: Float64Array;
  /** Errors that the updates at a node took out. */
  readonly taken: Float64Array;
  private rows: Float64Array;
  private readonly nodeOf: number[] = [];
  private readonly size: number[] = [];

  constructor(readonly nodes: number) {
    this.sample = new Int32Array(nodes);
    this.p = new Float64Array(nodes * PACKED);
    this.phi = new Float64Array(nodes * COUPLED * N);
    this.keep = new Float64Array(nodes * N);
    this.taken = new Float64Array(nodes * N);
    this.rows = new Float64Array(UPDATE_WIDTH * (nodes + 64));
  }

  putCovariance(node: number, p: Float64Array): void {
    let at = node * PACKED;
    for (let i = 0; i < N; i++) for (let j = i; j < N; j++) this.p[at++] = p[i * N + j];
  }

  covariance(node: number, out: Float64Array): void {
    let at = node * PACKED;
    for (let i = 0; i < N; i++) for (let j = i; j < N; j++) out[i * N + j] = out[j * N + i] = this.p[at++];
  }

  /** Keeps an update of m observations: design h and gain, m × N, inverse variance, m × m, and innovation. */
  putUpdate(node: number, m: number, h: Float64Array, gain: Float64Array, inverse: Float64Array, y: ArrayLike<number>) {
    const at = this.nodeOf.length * UPDATE_WIDTH;
    if (at + UPDATE_WIDTH > this.rows.length) {
      const grown = new Float64Array(2 * this.rows.length);
      grown.set(this.rows);
      this.rows = grown;
    }
    this.rows.set(h.subarray(0, m * N), at);
    this.rows.set(gain.subarray(0, m * N), at + 3 * N);
    this.rows.set(inverse.subarray(0, m * m), at + 6 * N);
    for (let a = 0; a < m; a++) this.rows[at + 6 * N + 9 + a] = y[a];
    this.nodeOf.push(node);
    this.size.push(m);
  }

  get updates(): number {
    return this.nodeOf.length;
  }

  update(k: number): {
    node: number;
    m: number;
    h: Float64Array;
    gain: Float64Array;
    inverse: Float64Array;
    y: Float64Array;
  } {
    const row = this.rows.subarray(k * UPDATE_WIDTH, (k + 1) * UPDATE_WIDTH);
    return {
      ...{ node: this.nodeOf[k], m: this.size[k], h: row.subarray(0, 3 * N), gain: row.subarray(3 * N, 6 * N) },
      ...{ inverse: row.subarray(6 * N, 6 * N + 9), y: row.subarray(6 * N + 9) },
    };
  }
}
