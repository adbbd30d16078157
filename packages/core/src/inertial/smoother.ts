import { tick, type Watch } from '../shared/progress';
import { COUPLED, STATES } from './errorFilter';
import { type History } from './history';

const N = STATES;

/** Called from the last node to the first. */
export interface NodeSink {
  /**
   * @param after errors left in the states after the node's updates, @param before those left before them,
   * @param spread covariance of a state after smoothing.
   */
  (node: number, after: Float64Array, before: Float64Array, spread: Spread): void;
}

/**
 * Fixed-interval smoothing over a forward run in the form of Bryson and Frazier with the updates kept apart (Bierman
 * 1973): the same as Rauch, Tung and Striebel's, but nothing is inverted, since what later observations say is carried
 * backwards as an adjoint vector and matrix. A run comes as stretches, the last one first.
 */
export class Smoother {
  private readonly l = new Float64Array(N);
  private readonly big = new Float64Array(N * N);
  private readonly spread = new Spread(this.big);
  private readonly back = new StepBack(this.l, this.big);
  private readonly after = new Float64Array(N);
  private readonly before = new Float64Array(N);

  constructor(private readonly sink: NodeSink) {}

  /** @param nodes of the whole run, for the progress. */
  over(history: History, nodes: number, watch?: Watch): void {
    const { l, spread, back, after, before } = this;
    let update = history.updates - 1;
    for (let k = history.to - 1; k >= history.from; k--) {
      if ((k & 127) === 0) tick(watch, 1 - k / nodes, 'Smoothing');
      history.covariance(k, spread.p);
      const { p } = spread;
      const taken = history.takenAt(k);
      for (let i = 0; i < N; i++) {
        let v = 0;
        for (let m = 0; m < N; m++) v += p[i * N + m] * l[m];
        after[i] = -v;
        before[i] = taken[i] - v;
      }
      this.sink(k, after, before, spread);
      while (update >= 0 && history.nodeOfUpdate(update) === k) back.overUpdate(history.update(update--));
      back.overTransition(...history.transition(k));
    }
  }
}

/** Covariances after smoothing: P − P·Λ·P, only as far as they are asked for. */
export class Spread {
  /** Covariance of the forward run at the node. */
  readonly p = new Float64Array(N * N);
  private readonly row = new Float64Array(N);

  constructor(private readonly big: Float64Array) {}

  /** Covariance of the states `from`…`to` with each other as an upper triangle, written to out[at…]. */
  block(from: number, to: number, out: Float64Array, at: number): void {
    const { p } = this;
    for (let i = from; i < to; i++) {
      this.lean(i);
      for (let j = i; j < to; j++) out[at++] = p[i * N + j] - this.along(j);
    }
  }

  variance(i: number): number {
    this.lean(i);
    return this.p[i * (N + 1)] - this.along(i);
  }

  private lean(i: number): void {
    const { p, big, row } = this;
    row.fill(0);
    for (let m = 0; m < N; m++) {
      const v = p[i * N + m];
      if (v === 0) continue;
      const at = m * N;
      for (let j = 0; j < N; j++) row[j] += v * big[at + j];
    }
  }

  private along(j: number): number {
    let v = 0;
    for (let m = 0; m < N; m++) v += this.row[m] * this.p[j * N + m];
    return v;
  }
}

/** Carries the adjoint vector λ and matrix Λ backwards. */
class StepBack {
  private readonly work = new Float64Array(N * N);
  private readonly w = new Float64Array(3 * N);

  constructor(
    private readonly l: Float64Array,
    private readonly big: Float64Array,
  ) {}

  /** λ ← (I − KH)ᵀλ − HᵀS⁻¹y, Λ ← (I − KH)ᵀΛ(I − KH) + HᵀS⁻¹H. */
  overUpdate(u: ReturnType<History['update']>): void {
    const { l, big, w } = this;
    const { m, h, gain, inverse, y } = u;
    const c = [0, 0, 0];
    for (let a = 0; a < m; a++) {
      for (let i = 0; i < N; i++) c[a] += gain[a * N + i] * l[i];
      for (let b = 0; b < m; b++) c[a] += inverse[a * m + b] * y[b];
      for (let i = 0; i < N; i++) {
        let v = 0;
        for (let k = 0; k < N; k++) v += big[i * N + k] * gain[a * N + k];
        w[a * N + i] = v;
      }
    }
    for (let a = 0; a < m; a++) for (let i = 0; i < N; i++) l[i] -= h[a * N + i] * c[a];
    const inner = new Float64Array(9);
    for (let a = 0; a < m; a++)
      for (let b = 0; b < m; b++) {
        let v = inverse[a * m + b];
        for (let i = 0; i < N; i++) v += gain[a * N + i] * w[b * N + i];
        inner[a * 3 + b] = v;
      }
    for (let a = 0; a < m; a++)
      for (let i = 0; i < N; i++) {
        const ha = h[a * N + i];
        if (ha === 0) continue;
        for (let j = 0; j < N; j++) {
          let v = w[a * N + j];
          for (let b = 0; b < m; b++) v -= 0.5 * inner[a * 3 + b] * h[b * N + j];
          big[i * N + j] -= ha * v;
          big[j * N + i] -= ha * v;
        }
      }
  }

  /** λ ← Φᵀλ, Λ ← ΦᵀΛΦ. */
  overTransition(phi: Float64Array, keep: Float64Array): void {
    const { l, big, work } = this;
    for (let j = N - 1; j >= 0; j--) {
      let v = j < COUPLED ? 0 : keep[j] * l[j];
      for (let k = 0; k < COUPLED; k++) v += phi[k * N + j] * l[k];
      work[j] = v;
    }
    for (let j = 0; j < N; j++) l[j] = work[j];
    // work = Λ·Φ, rows of Λ from the left
    for (let i = 0; i < N; i++) {
      const at = i * N;
      for (let j = 0; j < COUPLED; j++) work[at + j] = 0;
      for (let j = COUPLED; j < N; j++) work[at + j] = big[at + j] * keep[j];
      for (let k = 0; k < COUPLED; k++) {
        const v = big[at + k];
        const from = k * N;
        for (let j = 0; j < N; j++) work[at + j] += v * phi[from + j];
      }
    }
    // Φᵀ·work, upper triangle
    for (let i = 0; i < N; i++) {
      const at = i * N;
      if (i < COUPLED) for (let j = i; j < N; j++) big[at + j] = 0;
      else for (let j = i; j < N; j++) big[at + j] = keep[i] * work[at + j];
      for (let k = 0; k < COUPLED; k++) {
        const v = phi[k * N + i];
        if (v === 0) continue;
        const from = k * N;
        for (let j = i; j < N; j++) big[at + j] += v * work[from + j];
      }
    }
    for (let i = 0; i < N; i++) for (let j = 0; j < i; j++) big[i * N + j] = big[j * N + i];
  }
}
