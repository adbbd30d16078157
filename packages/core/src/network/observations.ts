/** A point of the network. Held ones keep their coordinates within their deviations; the others are found. */
export interface NetworkPoint {
  name: string;
  /** Earth-centred metres: as held, or undefined for one to be found. */
  heldM?: ArrayLike<number>;
  /** Of a held point, 1 SD north, east, down, metres. */
  heldSdM?: readonly [number, number, number];
}

/** A vector between two marks from satellites, Earth-centred metres. */
export interface VectorObservation {
  kind: 'vector';
  from: string;
  to: string;
  /** To less from. */
  deltaM: ArrayLike<number>;
  /** 3 × 3, metres². */
  covariance: ArrayLike<number>;
  /** Vectors of one session that share a receiver share its errors; without a name they are taken as independent. */
  session?: string;
}

/** A slope distance between two marks, or the difference of their ellipsoidal heights (to less from). */
export interface ScalarObservation {
  kind: 'distance' | 'height';
  from: string;
  to: string;
  valueM: number;
  sdM: number;
}

export type NetworkObservation = VectorObservation | ScalarObservation;

export const rowsOf = (o: NetworkObservation): number => (o.kind === 'vector' ? 3 : 1);
