/** An observation has at most so many terms: a position, a clock, an ambiguity, the air, or a combination of ambiguities. */
const MAX_TERMS = 128;

/** States of a Kalman filter with their covariance, updated by one scalar observation at a time. */
export class States {
  readonly x: Float64Array;
  /** Covariance, upper triangle. */
  readonly p: Float64Array;
  private readonly gain: Float64Array;
  private readonly index = new Int32Array(MAX_TERMS);
  private readonly factor = new Float64Array(MAX_TERMS);
  private terms = 0;

  /** @param size most states; @param end states from here on were never used. */
  constructor(
    readonly size: number,
    public end: number,
  ) {
    this.x = new Float64Array(size);
    this.p = new Float64Array(size * size);
    this.gain = new Float64Array(size);
  }

  variance(i: number, j: number): number {
    return i <= j ? this.p[i * this.size + j] : this.p[j * this.size + i];
  }

  /** Adds to the variance of a state. */
  loosen(k: number, variance: number): void {
    this.p[k * (this.size + 1)] += variance;
  }

  clear(k: number): void {
    const { p, size } = this;
    for (let i = 0; i < k; i++) p[i * size + k] = 0;
    for (let j = k; j < size; j++) p[k * size + j] = 0;
    this.x[k] = 0;
  }

  /** Begins a state anew, independent of all others. */
  start(k: number, value: number, sd: number): void {
    this.clear(k);
    this.x[k] = value;
    this.p[k * (this.size + 1)] = sd * sd;
  }

  /** Lets a state fade towards nothing. @param keep share that stays; @param sd of the state in the long run. */
  fade(k: number, keep: number, sd: number): void {
    const { p, size } = this;
    this.x[k] *= keep;
    for (let i = 0; i < k; i++) p[i * size + k] *= keep;
    for (let j = k + 1; j < size; j++) p[k * size + j] *= keep;
    p[k * (size + 1)] = keep * keep * p[k * (size + 1)] + (1 - keep * keep) * sd * sd;
  }

  /** Begins the row of an observation. */
  begin(): void {
    this.terms = 0;
  }

  term(index: number, factor: number): void {
    this.index[this.terms] = index;
    this.factor[this.terms++] = factor;
  }

  /** Covariance of the states with what the row observes, into the gain. @returns its variance. */
  prepare(): number {
    const { p, size, end, gain, index, factor, terms } = this;
    gain.fill(0, 0, end);
    for (let t = 0; t < terms; t++) {
      const j = index[t];
      const f = factor[t];
      for (let i = 0; i <= j; i++) gain[i] += f * p[i * size + j];
      const at = j * size;
      for (let i = j + 1; i < end; i++) gain[i] += f * p[at + i];
    }
    let s = 0;
    for (let t = 0; t < terms; t++) s += factor[t] * gain[index[t]];
    return s;
  }

  innovation(y: number): number {
    let v = y;
    for (let t = 0; t < this.terms; t++) v -= this.factor[t] * this.x[this.index[t]];
    return v;
  }

  /** Takes the prepared observation in. @param s variance of the innovation. */
  apply(innovation: number, s: number): void {
    const { p, x, size, end, gain } = this;
    const inverse = 1 / s;
    for (let i = 0; i < end; i++) {
      const k = gain[i] * inverse;
      if (k === 0) continue;
      x[i] += k * innovation;
      const at = i * size;
      for (let j = i; j < end; j++) p[at + j] -= k * gain[j];
    }
  }
}
