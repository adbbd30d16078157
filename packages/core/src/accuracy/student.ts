import { logGamma } from '../numeric/gamma';

/** Student's t: probability and quantile by the regularised incomplete beta function (Lentz continued fraction). */

function incompleteBeta(x: number, a: number, b: number): number {
  if (x <= 0) return 0;
  if (x >= 1) return 1;
  if (x > (a + 1) / (a + b + 2)) return 1 - incompleteBeta(1 - x, b, a);
  const front = Math.exp(logGamma(a + b) - logGamma(a) - logGamma(b) + a * Math.log(x) + b * Math.log(1 - x)) / a;
  let f = 1,
    c = 1,
    d = 0;
  for (let i = 0; i <= 300; i++) {
    const m = i >> 1;
    let numerator: number;
    if (i === 0) numerator = 1;
    else if (i % 2 === 0) numerator = (m * (b - m) * x) / ((a + 2 * m - 1) * (a + 2 * m));
    else numerator = -((a + m) * (a + b + m) * x) / ((a + 2 * m) * (a + 2 * m + 1));
    d = 1 / (Math.abs(1 + numerator * d) < 1e-30 ? 1e-30 : 1 + numerator * d);
    c = 1 + numerator / c;
    if (Math.abs(c) < 1e-30) c = 1e-30;
    f *= c * d;
    if (Math.abs(1 - c * d) < 1e-14) break;
  }
  return front * (f - 1);
}

/** Probability that |t| is larger than the given value, two-sided. */
export function studentTwoSided(t: number, degrees: number): number {
  return incompleteBeta(degrees / (degrees + t * t), degrees / 2, 0.5);
}

/** The |t| exceeded with probability `alpha`, two-sided; for 0.05 and 10 degrees 2.2281. */
export function studentQuantile(alpha: number, degrees: number): number {
  let low = 0;
  let high = 1000;
  for (let i = 0; i < 80; i++) {
    const middle = (low + high) / 2;
    if (studentTwoSided(middle, degrees) > alpha) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/** Probability that Fisher's F with these degrees of freedom is larger than a value. */
export function fisherTail(f: number, above: number, below: number): number {
  if (!(f < Infinity)) return 0;
  return f <= 0 ? 1 : incompleteBeta(below / (below + above * f), below / 2, above / 2);
}
