import { solveNormal } from '../numeric/leastSquares';

const MAX_CLOCKS = 16;
const ROUNDS = 12;
/** Share of the observations that may be left out one by one before a robust start is tried. */
const MAX_LEFT_OUT = 0.3;

/**
 * Least squares of one epoch: a displacement, and a clock for each group of observations. Finds what does not agree
 * with the rest, however large and however many as long as most agree.
 */
export class EpochFit {
  count = 0;
  private size = 64;
  private a = new Float64Array(3 * this.size);
  private y = new Float64Array(this.size);
  private variance = new Float64Array(this.size);
  private clock = new Int32Array(this.size);
  private weight = new Float64Array(this.size);
  private readonly column = new Int32Array(MAX_CLOCKS);
  readonly residual = { values: new Float64Array(this.size) };
  /** Displacement, metres, and its covariance with the clocks, after a solution. */
  readonly x = new Float64Array(3);
  private q?: Float64Array;
  private unknowns = 0;

  clear(): void {
    this.count = 0;
  }

  /** @param unit to the satellite: a displacement along it shortens the range. @param clock number of the clock, below 16. */
  add(unit: ArrayLike<number>, clock: number, y: number, variance: number): void {
    const k = this.count++;
    if (k === this.size) this.grow();
    for (let i = 0; i < 3; i++) this.a[3 * k + i] = -unit[i];
    this.y[k] = y;
    this.variance[k] = variance;
    this.clock[k] = clock;
    this.weight[k] = 1 / variance;
  }

  private grow(): void {
    this.size *= 2;
    const more = (v: Float64Array, n: number) => {
      const out = new Float64Array(n);
      out.set(v);
      return out;
    };
    this.a = more(this.a, 3 * this.size);
    this.y = more(this.y, this.size);
    this.variance = more(this.variance, this.size);
    this.weight = more(this.weight, this.size);
    this.residual.values = new Float64Array(this.size);
    const clock = new Int32Array(this.size);
    clock.set(this.clock);
    this.clock = clock;
  }

  /** How many observations count, less the unknowns. */
  private freedom(): number {
    let n = 0;
    for (let k = 0; k < this.count; k++) if (this.weight[k] > 0) n++;
    return n - this.unknowns;
  }

  private solve(): boolean {
    const { column, clock, weight, a, y } = this;
    column.fill(-1);
    let n = 3;
    for (let k = 0; k < this.count; k++) if (weight[k] > 0 && column[clock[k]] < 0) column[clock[k]] = n++;
    this.unknowns = n;
    const normal = new Float64Array(n * n);
    const b = new Float64Array(n);
    for (let k = 0; k < this.count; k++) {
      const w = weight[k];
      if (w === 0) continue;
      const c = column[clock[k]];
      for (let i = 0; i < 3; i++) {
        const v = w * a[3 * k + i];
        b[i] += v * y[k];
        for (let j = 0; j <= i; j++) normal[i * n + j] += v * a[3 * k + j];
        normal[c * n + i] += v;
      }
      normal[c * n + c] += w;
      b[c] += w * y[k];
    }
    for (let i = 0; i < n; i++) for (let j = 0; j < i; j++) normal[j * n + i] = normal[i * n + j];
    this.q = solveNormal(normal, b, n);
    if (!this.q) return false;
    for (let k = 0; k < 3; k++) this.x[k] = b[k];
    for (let k = 0; k < this.count; k++) {
      const c = column[clock[k]];
      this.residual.values[k] =
        c < 0 ? Number.NaN : y[k] - a[3 * k] * b[0] - a[3 * k + 1] * b[1] - a[3 * k + 2] * b[2] - b[c];
    }
    return true;
  }

  /** Variance of what an observation has left over; of one that does not count, of its disagreement. */
  private spread(k: number): number {
    const { q, unknowns: n, a } = this;
    const c = this.column[this.clock[k]];
    let h = 0;
    for (let i = 0; i < 3; i++) {
      for (let j = 0; j < 3; j++) h += a[3 * k + i] * q![i * n + j] * a[3 * k + j];
      h += 2 * a[3 * k + i] * q![i * n + c];
    }
    h += q![c * n + c];
    return this.weight[k] > 0 ? Math.max(this.variance[k] - h, 1e-3 * this.variance[k]) : this.variance[k] + h;
  }

  /**
   * Leaves out what does not agree: one after the other by their deviations (Baarda 1968); where that takes many away,
   * from a robust start.
   * @param limit deviations; @param minM metres that an observation must be off at least.
   * @returns numbers of those left out; undefined when too few are left to tell which are right.
   */
  reject(limit: number, minM: number): number[] | undefined {
    if (!this.solve()) return undefined;
    if (!this.anyOff(limit, minM)) return this.freedom() < 0 ? undefined : [];
    const oneByOne = this.leaveWorst(limit, minM);
    if (oneByOne && oneByOne.length <= MAX_LEFT_OUT * this.count) return oneByOne;
    this.startRobust(limit, minM);
    const robust = this.leaveWorst(limit, minM);
    if (!robust || (oneByOne && oneByOne.length <= robust.length)) return oneByOne;
    return robust;
  }

  /** Weights by the sum of absolute deviations, which less than half of the observations cannot pull away. */
  private startRobust(limit: number, minM: number): void {
    for (let k = 0; k < this.count; k++) this.weight[k] = 1 / this.variance[k];
    for (let round = 0; round < ROUNDS && this.solve(); round++)
      for (let k = 0; k < this.count; k++) {
        const off = Math.abs(this.residual.values[k]);
        this.weight[k] = 1 / (this.variance[k] * Math.max(1, off / Math.sqrt(this.variance[k])));
      }
    if (!this.solve()) return;
    for (let k = 0; k < this.count; k++) {
      const off = Math.abs(this.residual.values[k]);
      this.weight[k] = off > Math.max(minM, limit * Math.sqrt(this.variance[k])) ? 0 : 1 / this.variance[k];
    }
  }

  /**
   * Leaves out the worst until the rest agrees, and takes back what agrees after all.
   * @returns numbers of those left out; undefined when nothing is left to tell.
   */
  private leaveWorst(limit: number, minM: number): number[] | undefined {
    for (let round = 0; round < 2 * this.count; round++) {
      if (!this.solve() || this.freedom() < 1) return undefined;
      let worst = 1;
      let which = -1;
      for (let k = 0; k < this.count; k++) {
        if (this.column[this.clock[k]] < 0) continue;
        const size = Math.abs(this.residual.values[k]) / Math.max(minM, limit * Math.sqrt(this.spread(k)));
        if (this.weight[k] === 0) {
          if (size >= 1) continue;
          // what agrees comes back before anything else goes
          which = k;
          break;
        }
        const pull = Math.abs(this.residual.values[k]) / Math.sqrt(this.spread(k));
        if (size > 1 && pull > worst) [worst, which] = [pull, k];
      }
      if (which < 0) break;
      this.weight[which] = this.weight[which] > 0 ? 0 : 1 / this.variance[which];
    }
    const out: number[] = [];
    for (let k = 0; k < this.count; k++) if (this.weight[k] === 0) out.push(k);
    return out;
  }

  private anyOff(limit: number, minM: number): boolean {
    for (let k = 0; k < this.count; k++) {
      const off = Math.abs(this.residual.values[k]);
      if (off > minM && off > limit * Math.sqrt(this.spread(k))) return true;
    }
    return false;
  }

  /** What an observation has left over, over the deviation that this is expected to have; NaN where it does not count. */
  normalised(k: number): number {
    return this.weight[k] > 0 ? this.residual.values[k] / Math.sqrt(this.spread(k)) : Number.NaN;
  }

  /** Share of an observation's variance that its residual keeps. */
  redundancy(k: number): number {
    return this.spread(k) / this.variance[k];
  }
}
