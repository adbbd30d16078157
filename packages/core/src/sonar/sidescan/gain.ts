/** Bins of angle from the vertical, degrees, and of range, metres. */
const ANGLE_DEG = 2;
const ANGLES = 45;
const RANGE_M = 1;
const RANGES = 400;
/** Fewer samples in a bin say nothing. */
const FEWEST = 200;
const ROUNDS = 3;

/**
 * Gain by angle and by range from the recordings themselves: logarithms of amplitudes are split into a part by angle and a
 * part by range (alternating means), so that even bed is as bright everywhere. Means of logarithms, so that a few bright
 * things count little.
 */
export class GainTable {
  private readonly sums = new Float64Array(ANGLES * RANGES);
  private readonly counts = new Float64Array(ANGLES * RANGES);
  private readonly byAngle = new Float64Array(ANGLES);
  private readonly byRange = new Float64Array(RANGES);
  private level = 0;

  add(angleDeg: number, rangeM: number, amplitude: number): void {
    if (!(amplitude > 0)) return;
    const a = Math.floor(angleDeg / ANGLE_DEG);
    const r = Math.floor(rangeM / RANGE_M);
    if (a < 0 || a >= ANGLES || r >= RANGES) return;
    this.sums[a * RANGES + r] += Math.log(amplitude);
    this.counts[a * RANGES + r]++;
  }

  /** Settles the table when all was added. */
  settle(): void {
    const { sums, counts, byAngle, byRange } = this;
    let [all, n] = [0, 0];
    for (let i = 0; i < sums.length; i++) {
      all += sums[i];
      n += counts[i];
    }
    this.level = n ? all / n : 0;
    for (let round = 0; round < ROUNDS; round++) {
      this.fit(byAngle, ANGLES, (a, r) => a * RANGES + r, RANGES, byRange);
      // angle first: what is left over is range
      this.fit(byRange, RANGES, (r, a) => a * RANGES + r, ANGLES, byAngle);
    }
  }

  /** Means of what is left when the other part is taken off. @param at bin of both. */
  private fit(
    out: Float64Array,
    size: number,
    at: (i: number, j: number) => number,
    others: number,
    known: Float64Array,
  ): void {
    const { sums, counts, level } = this;
    for (let i = 0; i < size; i++) {
      let [sum, count] = [0, 0];
      for (let j = 0; j < others; j++) {
        const c = counts[at(i, j)];
        if (!c) continue;
        sum += sums[at(i, j)] - c * (level + known[j]);
        count += c;
      }
      out[i] = count >= FEWEST ? sum / count : Number.NaN;
    }
    fillGaps(out);
  }

  /** What an amplitude is multiplied by. */
  factor(angleDeg: number, rangeM: number): number {
    const a = Math.max(0, Math.min(ANGLES - 1.001, angleDeg / ANGLE_DEG - 0.5));
    const r = Math.max(0, Math.min(RANGES - 1.001, rangeM / RANGE_M - 0.5));
    const between = (v: Float64Array, p: number) => {
      const k = Math.floor(p);
      return v[k] + (p - k) * (v[k + 1] - v[k]);
    };
    return Math.exp(-between(this.byAngle, a) - between(this.byRange, r));
  }

  /** Amplitude of even bed after the correction. */
  get evenBed(): number {
    return Math.exp(this.level);
  }
}

/** Bins that nothing is known of take what their nearest neighbour has. */
function fillGaps(v: Float64Array): void {
  const known = [...v.keys()].filter((i) => !Number.isNaN(v[i]));
  if (!known.length) {
    v.fill(0);
    return;
  }
  for (let i = 0; i < v.length; i++) {
    if (!Number.isNaN(v[i])) continue;
    let near = known[0];
    for (const k of known) if (Math.abs(k - i) < Math.abs(near - i)) near = k;
    v[i] = v[near];
  }
}
