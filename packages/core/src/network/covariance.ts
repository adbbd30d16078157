import { Problem } from '../shared/problem';
import { rowsOf, type NetworkObservation, type VectorObservation } from './observations';

/**
 * Covariance of observations in their order, in the first rows of a larger square. Each end of a vector makes half of
 * its variance, so that two vectors of one session through a common receiver are correlated by a half.
 * @param size rows and columns of the square.
 */
export function covarianceOf(observations: NetworkObservation[], size: number): Float64Array {
  const out = new Float64Array(size * size);
  const factors: Array<{ row: number; o: VectorObservation; factor: Float64Array }> = [];
  let row = 0;
  for (const o of observations) {
    if (o.kind === 'vector') factors.push({ row, o, factor: factorOf(o) });
    else if (!(o.sdM > 0)) throw without(o);
    else out[row * size + row] = o.sdM ** 2;
    row += rowsOf(o);
  }
  for (const a of factors)
    for (const b of factors) {
      const share = a === b ? 1 : sharedShare(a.o, b.o);
      if (share === 0) continue;
      for (let i = 0; i < 3; i++)
        for (let j = 0; j < 3; j++) {
          let v = 0;
          for (let k = 0; k < 3; k++) v += a.factor[3 * i + k] * b.factor[3 * j + k];
          out[(a.row + i) * size + b.row + j] = share * v;
        }
    }
  return out;
}

function sharedShare(a: VectorObservation, b: VectorObservation): number {
  if (!a.session || a.session !== b.session) return 0;
  const along = (a.from === b.from ? 1 : 0) + (a.to === b.to ? 1 : 0);
  const against = (a.from === b.to ? 1 : 0) + (a.to === b.from ? 1 : 0);
  return (along - against) / 2;
}

/** Lower factor of a vector's covariance by Cholesky. */
function factorOf(o: VectorObservation): Float64Array {
  const l = new Float64Array(9);
  for (let j = 0; j < 3; j++)
    for (let i = j; i < 3; i++) {
      let v = o.covariance[3 * i + j];
      for (let k = 0; k < j; k++) v -= l[3 * i + k] * l[3 * j + k];
      if (i === j && !(v > 0)) throw without(o);
      l[3 * i + j] = i === j ? Math.sqrt(v) : v / l[4 * j];
    }
  return l;
}

function without(o: NetworkObservation): Problem {
  return new Problem(`The ${o.kind} ${o.from} to ${o.to} states no usable deviation.`, {
    code: 'network-deviation',
    place: `${o.from} to ${o.to}`,
    remedy: 'Deviations are metres above zero.',
  });
}
