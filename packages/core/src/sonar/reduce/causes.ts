/** Causes of a sounding's uncertainty, in the order of the sums. */
export const CAUSES = ['position', 'attitude', 'mounting', 'latency', 'range', 'angle', 'water', 'height'] as const;
export type Cause = (typeof CAUSES)[number];
const N = CAUSES.length;

/** Edges of the bins by angle from the vertical, degrees. */
export const ANGLE_STEP_DEG = 10;
const BINS = 9;

/** Sums of variances by cause and angle from the vertical, to say what the uncertainty comes from. */
export class CauseSums {
  readonly count = new Float64Array(BINS);
  /** Variance of height and of plan (mean of both axes), [bin × cause]. */
  readonly height = new Float64Array(BINS * N);
  readonly plan = new Float64Array(BINS * N);

  static bin(angleDeg: number): number {
    return Math.min(BINS - 1, Math.floor(Math.abs(angleDeg) / ANGLE_STEP_DEG));
  }

  /** Both together. */
  add(other: CauseSums): CauseSums {
    const out = new CauseSums();
    for (const key of ['count', 'height', 'plan'] as const)
      for (let i = 0; i < out[key].length; i++) out[key][i] = this[key][i] + other[key][i];
    return out;
  }

  /** Root mean square of one cause over all soundings, metres. */
  rms(of: 'height' | 'plan', cause: Cause): number {
    const at = CAUSES.indexOf(cause);
    let [sum, n] = [0, 0];
    for (let b = 0; b < BINS; b++) {
      sum += this[of][b * N + at];
      n += this.count[b];
    }
    return n ? Math.sqrt(sum / n) : Number.NaN;
  }

  /** By angle: how many, and the root mean square of all causes together, metres. */
  byAngle(): Array<{ fromDeg: number; toDeg: number; count: number; heightM: number; planM: number }> {
    const total = (sums: Float64Array, b: number) => {
      let sum = 0;
      for (let k = 0; k < N; k++) sum += sums[b * N + k];
      return Math.sqrt(sum / this.count[b]);
    };
    return [...this.count.keys()]
      .filter((b) => this.count[b] > 0)
      .map((b) => ({
        fromDeg: b * ANGLE_STEP_DEG,
        toDeg: (b + 1) * ANGLE_STEP_DEG,
        count: this.count[b],
        heightM: total(this.height, b),
        planM: total(this.plan, b),
      }));
  }
}
