import { type Envelope } from '../numeric/envelope';
import { type Group } from './covariance';
import { type Row, type Unknowns } from './equations';
import { type NetworkObservation } from './observations';

/** A network at its solution. */
export interface Solved {
  unknowns: Unknowns;
  observations: NetworkObservation[];
  rows: Row[];
  groups: Group[];
  /** Group of each row. */
  groupOf: Int32Array;
  /** Inverse of each group's covariance. */
  weights: Float64Array[];
  factor: Envelope;
  /** Covariances of the unknowns, of those that observations link. */
  inverse: Envelope;
}

/** What the unknowns' covariance makes of two rows whose unknowns are linked. */
export function between(a: Row, b: Row, inverse: Envelope): number {
  let sum = 0;
  for (let i = 0; i < a.columns.length; i++)
    for (let j = 0; j < b.columns.length; j++)
      sum += a.values[i] * b.values[j] * covarianceOf(inverse, a.columns[i], b.columns[j]);
  return sum;
}

/** Covariance of two unknowns that are linked. */
export const covarianceOf = (inverse: Envelope, i: number, j: number) =>
  inverse.values[i < j ? inverse.at(j, i) : inverse.at(i, j)];
