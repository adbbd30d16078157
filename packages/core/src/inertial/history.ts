import { COUPLED, PACKED, STATES } from './errorFilter';

const N = STATES;
/** Numbers of one update: design 3 × N, gain 3 × N, inverse variance 3 × 3, innovation 3. */
const UPDATE_WIDTH = 6 * N + 12;

/**
 * What the smoother needs of a stretch of a forward run: transitions and covariances by node, and every update. Nodes
 * count from the beginning of the run.
 */
export class History {
  /** First node of the stretch, and the first behind it. */
  from = 0;
  to = 0;
  /** Covariances after the updates of a node, upper triangles. */
  private readonly p: Float64Array;
  /** Coupled rows of the transition to a node from the one before, and the diagonal of the other states. */
  private readonly phi: Float64Array;
  private readonly keep: Float64Array;
  /** Errors that the updates at a node took out. */
  private readonly taken: Float64Array;
  private rows: Float64Array;
  private readonly nodeOf: number[] = [];
  private readonly size: number[] = [];

  /** @param nodes that there is room for. */
  constructor(readonly nodes: number) {
    this.to = nodes;
    this.p = new Float64Array(nodes * PACKED);
    this.phi = new Float64Array(nodes * COUPLED * N);
    this.keep = new Float64Array(nodes * N);
    this.taken = new Float64Array(nodes * N);
    this.rows = new Float64Array(UPDATE_WIDTH * (nodes + 64));
  }

  /** Forgets what there is: another stretch begins, of as many nodes as there is room for or fewer. */
  begin(from: number, to: number): void {
    this.from = from;
    this.to = to;
    this.taken.fill(0);
    this.nodeOf.length = this.size.length = 0;
  }

  putTransition(node: number, phi: Float64Array, keep: Float64Array): void {
    this.phi.set(phi, (node - this.from) * COUPLED * N);
    this.keep.set(keep, (node - this.from) * N);
  }

  /** Transition to a node: its coupled rows, and the diagonal of the others. */
  transition(node: number): [phi: Float64Array, keep: Float64Array] {
    const k = node - this.from;
    return [this.phi.subarray(k * COUPLED * N, (k + 1) * COUPLED * N), this.keep.subarray(k * N, (k + 1) * N)];
  }

  /** Errors that the updates at a node took out, in place. */
  takenAt(node: number): Float64Array {
    return this.taken.subarray((node - this.from) * N, (node - this.from + 1) * N);
  }

  putCovariance(node: number, p: Float64Array): void {
    let at = (node - this.from) * PACKED;
    for (let i = 0; i < N; i++) for (let j = i; j < N; j++) this.p[at++] = p[i * N + j];
  }

  covariance(node: number, out: Float64Array): void {
    let at = (node - this.from) * PACKED;
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

  nodeOfUpdate(k: number): number {
    return this.nodeOf[k];
  }

  update(k: number): {
    m: number;
    h: Float64Array;
    gain: Float64Array;
    inverse: Float64Array;
    y: Float64Array;
  } {
    const row = this.rows.subarray(k * UPDATE_WIDTH, (k + 1) * UPDATE_WIDTH);
    return {
      m: this.size[k],
      h: row.subarray(0, 3 * N),
      gain: row.subarray(3 * N, 6 * N),
      inverse: row.subarray(6 * N, 6 * N + 9),
      y: row.subarray(6 * N + 9),
    };
  }
}
