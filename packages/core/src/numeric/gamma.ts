/** Logarithm of the gamma function; Lanczos approximation, g = 7, nine terms (Godfrey 2001). */
export function logGamma(x: number): number {
  const c = [
    0.99999999999980993, 676.5203681218851, -1259.1392167224028, 771.32342877765313, -176.61502916214059,
    12.507343278686905, -0.13857109526572012, 9.9843695780195716e-6, 1.5056327351493116e-7,
  ];
  const z = x - 1;
  let sum = c[0];
  for (let i = 1; i < 9; i++) sum += c[i] / (z + i);
  const t = z + 7.5;
  return 0.5 * Math.log(2 * Math.PI) + (z + 0.5) * Math.log(t) - t + Math.log(sum);
}

/** Regularised lower incomplete gamma function P(a, x): series below a + 1, continued fraction (Lentz) above. */
function incompleteGamma(a: number, x: number): number {
  if (x <= 0) return 0;
  const front = Math.exp(a * Math.log(x) - x - logGamma(a));
  if (x < a + 1) {
    let term = 1 / a;
    let sum = term;
    for (let n = 1; n < 1000 && Math.abs(term) > 1e-16 * sum; n++) sum += term *= x / (a + n);
    return front * sum;
  }
  const tiny = 1e-300;
  let b = x + 1 - a;
  let c = 1 / tiny;
  let d = 1 / b;
  let f = d;
  for (let n = 1; n < 1000; n++) {
    const an = -n * (n - a);
    b += 2;
    d = 1 / (Math.abs(an * d + b) < tiny ? tiny : an * d + b);
    c = Math.abs(b + an / c) < tiny ? tiny : b + an / c;
    f *= d * c;
    if (Math.abs(d * c - 1) < 1e-15) break;
  }
  return 1 - front * f;
}

/** Probability that chi-square with so many degrees of freedom is at most `x`. */
export const chiSquareBelow = (x: number, degrees: number): number => incompleteGamma(degrees / 2, x / 2);

/** The chi-square that is at most reached with probability `p`; for 0.95 and 10 degrees 18.307. */
export function chiSquareQuantile(p: number, degrees: number): number {
  let low = 0;
  let high = Math.max(1, degrees);
  while (chiSquareBelow(high, degrees) < p) high *= 2;
  for (let k = 0; k < 200 && high - low > 1e-12 * high; k++) {
    const middle = (low + high) / 2;
    if (chiSquareBelow(middle, degrees) < p) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
