import { Problem } from '../shared/problem';
import { isAngle, rowsOf, type NetworkObservation, type VectorObservation } from './observations';

/** Rows that are correlated with each other, by their numbers, and their covariance. */
export interface Group {
  rows: number[];
  /** Square, by rows. */
  covariance: Float64Array;
}

/**
 * Covariances of observations in their order, those that are correlated together. Each end of a vector makes half of its
 * variance, so that two vectors of one session through a common receiver are correlated by a half.
 */
export function groupsOf(observations: readonly NetworkObservation[]): Group[] {
  const out: Group[] = [];
  const sessions = new Map<string, Array<{ row: number; o: VectorObservation; factor: Float64Array }>>();
  let row = 0;
  for (const o of observations) {
    if (o.kind === 'vector') {
      const name = o.session ?? `\u0000${row}`;
      const own = sessions.get(name) ?? [];
      own.push({ row, o, factor: factorOf(o) });
      sessions.set(name, own);
    } else {
      const sd = isAngle(o) ? o.sdRad : o.sdM;
      if (!(sd > 0)) throw without(o);
      out.push({ rows: [row], covariance: Float64Array.of(sd ** 2) });
    }
    row += rowsOf(o);
  }
  for (const own of sessions.values()) {
    const size = 3 * own.length;
    const covariance = new Float64Array(size * size);
    own.forEach((a, p) =>
      own.forEach((b, q) => {
        const share = a === b ? 1 : sharedShare(a.o, b.o);
        if (share === 0) return;
        for (let i = 0; i < 3; i++)
          for (let j = 0; j < 3; j++) {
            let v = 0;
            for (let k = 0; k < 3; k++) v += a.factor[3 * i + k] * b.factor[3 * j + k];
            covariance[(3 * p + i) * size + 3 * q + j] = share * v;
          }
      }),
    );
    out.push({ rows: own.flatMap((a) => [a.row, a.row + 1, a.row + 2]), covariance });
  }
  return out;
}

function sharedShare(a: VectorObservation, b: VectorObservation): number {
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
  return new Problem(`The ${NAMES[o.kind]} ${o.from} to ${o.to} states no usable deviation.`, {
    code: 'network-deviation',
    place: `${o.from} to ${o.to}`,
    remedy: isAngle(o) ? 'Deviations of angles are above zero.' : 'Deviations are metres above zero.',
  });
}

/** Of kinds of observations, within a sentence. */
export const NAMES: { readonly [K in NetworkObservation['kind']]: string } = {
  vector: 'vector',
  distance: 'distance',
  height: 'height difference',
  direction: 'direction',
  zenith: 'zenith angle',
};
