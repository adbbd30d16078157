import { type Cast } from './cast';

/** Rows of a cast nearer to the line between their neighbours than this are not needed, m/s. */
const NEAR_MPS = 0.005;

/** Change of speed across a layer, as a share, up to which the mean slowness serves. */
const THIN = 3e-4;

/**
 * Water in layers in which the speed of sound varies linearly with depth, so that rays are arcs of circles in each (Snell;
 * closed forms of e.g. Medwin & Clay 1998, ch. 3, written so that they hold for gradients down to nothing).
 */
export class LayeredWater {
  /** Upper edges of the layers, metres under the waterline; the first begins above any head. */
  private readonly topM: Float64Array;
  /** Speed at the upper edge, m/s, and its growth with depth, 1/s. */
  private readonly speed: Float64Array;
  private readonly gradient: Float64Array;
  private readonly inverse: Float64Array;
  /** Whether the speed changes so little across a layer that its mean serves (0.1 mm in 20 m at 70°). */
  private readonly thin: Uint8Array;
  /** Metres from where the last ray began to where it ended: across and down; NaN when it turned round before its time. */
  acrossM = 0;
  downM = 0;
  /** Cosine and sine of the angle from the vertical with which it arrived, and the speed there, m/s. */
  cosEnd = 1;
  sinEnd = 0;
  speedEnd = 1500;

  constructor(cast: Cast) {
    const { depthM, speedMps } = cast;
    const kept = straightRuns(depthM, speedMps, NEAR_MPS);
    const n = kept.length;
    this.topM = new Float64Array(n + 1);
    this.speed = new Float64Array(n + 1);
    this.gradient = new Float64Array(n + 1);
    this.topM[0] = -Infinity;
    this.speed[0] = speedMps[kept[0]];
    for (let k = 0; k < n; k++) {
      this.topM[k + 1] = depthM[kept[k]];
      this.speed[k + 1] = speedMps[kept[k]];
      if (k + 1 < n)
        this.gradient[k + 1] = (speedMps[kept[k + 1]] - speedMps[kept[k]]) / (depthM[kept[k + 1]] - depthM[kept[k]]);
    }
    this.inverse = this.gradient.map((g) => 1 / g);
    this.thin = Uint8Array.from(this.gradient, (g, k) =>
      g === 0 || Math.abs(g * (this.topM[k + 1] - this.topM[k])) < THIN * this.speed[k] ? 1 : 0,
    );
  }

  /** Speed at a depth under the waterline, m/s. */
  at(depthM: number): number {
    const k = this.layerAt(depthM);
    return k === 0 ? this.speed[0] : this.speed[k] + this.gradient[k] * (depthM - this.topM[k]);
  }

  private layerAt(depthM: number): number {
    const { topM } = this;
    let k = 0;
    while (k + 1 < topM.length && topM[k + 1] <= depthM) k++;
    return k;
  }

  /**
   * Follows a ray down for a time; the result stands in the fields above.
   * @param fromM depth of its beginning under the waterline, metres.
   * @param slowness sine of its angle from the vertical over the speed with which that angle was measured, s/m.
   * @param timeS one-way.
   */
  trace(fromM: number, slowness: number, timeS: number): void {
    const { topM, speed, gradient, inverse, thin } = this;
    const last = topM.length - 1;
    let k = this.layerAt(fromM);
    let c = k === 0 ? speed[0] : speed[k] + gradient[k] * (fromM - topM[k]);
    let z = fromM;
    let left = timeS;
    let across = 0;
    let sin = slowness * c;
    if (!(sin < 1)) return this.turned();
    let cos = Math.sqrt(1 - sin * sin);
    // slowness downwards, s/m
    let slow = 1 / (c * cos);
    for (;;) {
      const g = gradient[k];
      if (k < last) {
        const dz = topM[k + 1] - z;
        const cBelow = c + g * dz;
        const sinBelow = slowness * cBelow;
        if (sinBelow < 1) {
          const cosBelow = Math.sqrt(1 - sinBelow * sinBelow);
          const both = cos + cosBelow;
          // two quotients by one division
          const over = 1 / (both * cBelow * cosBelow);
          const lean = (sin + sinBelow) * over * cBelow * cosBelow;
          const slowBelow = over * both;
          let t: number;
          if (thin[k]) t = 0.5 * dz * (slow + slowBelow);
          else {
            const u = (g * dz) / c;
            const w = (slowness * g * dz * lean) / (1 + cosBelow);
            // ln((1 + u)(1 + w)) / g is the time through the layer
            t = log1p(u + w + u * w) * inverse[k];
          }
          if (t < left) {
            left -= t;
            across += dz * lean;
            z = topM[++k];
            c = cBelow;
            sin = sinBelow;
            cos = cosBelow;
            slow = slowBelow;
            continue;
          }
        }
      }
      // it ends within this layer
      const half = sin / (1 + cos);
      const grown = g === 0 ? 1 : Math.exp(g * left);
      const h2 = half * half;
      const stretch = g === 0 ? left : Math.expm1(g * left) / g;
      const dz = (c * stretch * (1 - h2 * grown)) / (1 + h2 * grown * grown);
      const tan = half * grown;
      if (!(tan < 1)) return this.turned();
      const sinEnd = (2 * tan) / (1 + tan * tan);
      const cosEnd = (1 - tan * tan) / (1 + tan * tan);
      this.acrossM = across + (dz * (sin + sinEnd)) / (cos + cosEnd);
      this.downM = z + dz - fromM;
      this.sinEnd = sinEnd;
      this.cosEnd = cosEnd;
      this.speedEnd = c + g * dz;
      return;
    }
  }

  private turned(): void {
    this.acrossM = this.downM = this.cosEnd = this.sinEnd = this.speedEnd = Number.NaN;
  }
}

/** ln(1 + u); the series is good to 1e-13 where layers are thin, and three times as fast. */
function log1p(u: number): number {
  if (u > 2e-3 || u < -2e-3) return Math.log1p(u);
  return u * (1 - u * (1 / 2 - u * (1 / 3 - u * (1 / 4 - u * (1 / 5)))));
}

/** Rows of a profile that straight lines between them describe within a tolerance (Douglas & Peucker 1973). */
function straightRuns(depthM: Float64Array, speedMps: Float64Array, toleranceMps: number): number[] {
  const n = depthM.length;
  const keep = new Uint8Array(n);
  keep[0] = keep[n - 1] = 1;
  const open: Array<[number, number]> = [[0, n - 1]];
  for (let span = open.pop(); span; span = open.pop()) {
    const [a, b] = span;
    const slope = (speedMps[b] - speedMps[a]) / (depthM[b] - depthM[a] || 1);
    let worst = toleranceMps;
    let at = -1;
    for (let i = a + 1; i < b; i++) {
      const off = Math.abs(speedMps[i] - speedMps[a] - slope * (depthM[i] - depthM[a]));
      if (off > worst) {
        worst = off;
        at = i;
      }
    }
    if (at < 0) continue;
    keep[at] = 1;
    open.push([a, at], [at, b]);
  }
  return [...keep.keys()].filter((i) => keep[i]);
}
