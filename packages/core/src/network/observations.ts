/** A point of the network. Held ones keep their coordinates within their deviations; the others are found. */
export interface NetworkPoint {
  name: string;
  /** Earth-centred metres: as held, or undefined for one to be found. */
  heldM?: ArrayLike<number>;
  /** Of a held point, 1 SD north, east, down, metres. */
  heldSdM?: readonly [number, number, number];
  /** Where it is about, Earth-centred metres, when no vector leads there. */
  aboutM?: ArrayLike<number>;
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

/** A slope distance, or the difference of ellipsoidal heights of two marks (to less from). */
export interface ScalarObservation {
  kind: 'distance' | 'height';
  from: string;
  to: string;
  valueM: number;
  sdM: number;
  /** Of a distance by an instrument: how it was set up; marks themselves without it. */
  sight?: Sight;
}

/** From an instrument that stands over one mark to a target over another. */
export interface Sight {
  /** Name of the set-up: its readings share the zero of the circle, and the errors of centring and height. */
  setUp: string;
  /** Of the instrument and of the target over their marks along the ellipsoid's normals, metres. */
  fromHeightM: number;
  toHeightM: number;
}

/**
 * A reading of the horizontal circle, clockwise on whatever zero, or a zenith angle against the ellipsoid's normal, bent by
 * refraction as read.
 */
export interface AngleObservation {
  kind: 'direction' | 'zenith';
  from: string;
  to: string;
  valueRad: number;
  sdRad: number;
  sight: Sight;
}

export type NetworkObservation = VectorObservation | ScalarObservation | AngleObservation;

export const isAngle = (o: NetworkObservation): o is AngleObservation => o.kind === 'direction' || o.kind === 'zenith';

export const rowsOf = (o: NetworkObservation): number => (o.kind === 'vector' ? 3 : 1);
