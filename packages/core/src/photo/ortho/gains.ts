import { solveNormal } from '../../numeric/leastSquares';
import { type Nodes } from './seams';

/** How firmly a picture keeps its own brightness, as so many nodes that say so. */
const OWN = 20;
/** Darker than this a colour tells no ratio. */
const DARK = 8;
const MOST_GAIN = 2;
/** Of so many nodes one is asked. */
const EVERY = 3;

/**
 * By what the colours of each picture are multiplied so that pictures agree where they show the same: least squares of
 * logarithms over all nodes that two or more show. @returns red, green, blue of each picture.
 */
export function evenBrightness(n: Nodes, pictures: number): Float64Array {
  const out = new Float64Array(3 * pictures).fill(1);
  for (let channel = 0; channel < 3; channel++) {
    const normal = new Float64Array(pictures * pictures);
    const right = new Float64Array(pictures);
    for (let k = 0; k < n.columns * n.rows; k += EVERY)
      for (let i = 0; i < n.most; i++) {
        const a = n.picture[k * n.most + i];
        if (a < 0) break;
        for (let j = 0; j < i; j++) {
          const b = n.picture[k * n.most + j];
          const [x, y] = [n.rgb[3 * (k * n.most + i) + channel], n.rgb[3 * (k * n.most + j) + channel]];
          if (x < DARK || y < DARK) continue;
          const off = Math.log(x / y);
          normal[a * pictures + a]++;
          normal[b * pictures + b]++;
          normal[a * pictures + b]--;
          normal[b * pictures + a]--;
          right[a] -= off;
          right[b] += off;
        }
      }
    for (let p = 0; p < pictures; p++) normal[p * pictures + p] += OWN;
    if (!solveNormal(normal, right, pictures)) continue;
    for (let p = 0; p < pictures; p++)
      out[3 * p + channel] = Math.min(MOST_GAIN, Math.max(1 / MOST_GAIN, Math.exp(right[p])));
  }
  return out;
}
