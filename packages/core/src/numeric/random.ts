/**
 * Seeded random numbers: sfc32 (Chris Doty-Humphrey's small fast counting generator, 2010; passes PractRand)
 * and normal deviates by the polar method (Marsaglia & Bray 1964). The same seed gives the same numbers on
 * every machine.
 */
export class Random {
  private a: number;
  private b: number;
  private c: number;
  private counter: number;
  private spare = Number.NaN;

  /** @param seed any integer; @param stream a second integer or name that sets independent streams apart. */
  constructor(seed: number, stream: number | string = 0) {
    this.a = mix(seed >>> 0);
    this.b = mix((typeof stream === 'string' ? hashText(stream) : stream >>> 0) ^ 0x9e3779b9);
    this.c = mix(this.a ^ (this.b << 1));
    this.counter = 1;
    for (let i = 0; i < 15; i++) this.uint32();
  }

  /** An integer from 0 to 2³²−1. */
  uint32(): number {
    const t = (this.a + this.b + this.counter) | 0;
    this.counter = (this.counter + 1) | 0;
    this.a = this.b ^ (this.b >>> 9);
    this.b = (this.c + (this.c << 3)) | 0;
    this.c = (this.c << 21) | (this.c >>> 11);
    this.c = (this.c + t) | 0;
    return t >>> 0;
  }

  /** A number in [0, 1). */
  uniform(): number {
    return this.uint32() / 4294967296;
  }

  /** A number in [low, high). */
  between(low: number, high: number): number {
    return low + (high - low) * this.uniform();
  }

  /** A normal deviate with mean 0 and SD 1. */
  normal(): number {
    if (!Number.isNaN(this.spare)) {
      const value = this.spare;
      this.spare = Number.NaN;
      return value;
    }
    let u: number, v: number, s: number;
    do {
      u = 2 * this.uniform() - 1;
      v = 2 * this.uniform() - 1;
      s = u * u + v * v;
    } while (s >= 1 || s === 0);
    const factor = Math.sqrt((-2 * Math.log(s)) / s);
    this.spare = v * factor;
    return u * factor;
  }
}

/** Scrambles 32 bits (finaliser of MurmurHash3, Appleby 2011). */
function mix(value: number): number {
  let h = value | 0;
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return (h ^ (h >>> 16)) >>> 0;
}

function hashText(text: string): number {
  let h = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) h = Math.imul(h ^ text.charCodeAt(i), 0x01000193);
  return h >>> 0;
}

/**
 * A first-order Gauss–Markov series: exponentially correlated, stationary, unit SD.
 * @param count samples; @param stepS seconds between them; @param tauS correlation time in seconds.
 */
export function gaussMarkov(random: Random, count: number, stepS: number, tauS: number): Float64Array {
  const out = new Float64Array(count);
  const keep = Math.exp(-stepS / tauS);
  const drive = Math.sqrt(1 - keep * keep);
  let value = random.normal();
  for (let i = 0; i < count; i++) {
    out[i] = value;
    value = keep * value + drive * random.normal();
  }
  return out;
}
