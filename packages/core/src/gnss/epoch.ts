import { type AirShare } from './fixedPosition';

export type Solution = 'fixed' | 'float' | 'code';

/** Position of the rover's antenna reference point at one epoch. */
export interface KinematicEpoch {
  /** GPS seconds of the rover file's week; the receiver's clock is taken out. */
  sow: number;
  /** Earth-centred metres, in the frame of the base. */
  xyzM: Float64Array;
  /** 3 × 3, metres². */
  covariance: Float64Array;
  solution: Solution;
  satellites: number;
  ratio: number;
  successRate: number;
  /** Distance of the forward and the reverse position, metres; NaN where these are not of the same kind. */
  separationM: number;
  /** Both directions were fixed, but contradict each other: not fixed after all. */
  contrary?: boolean;
  /** Of a fixed epoch: share of the covariance that noise and multipath make, without the air; metres². */
  noise?: Float64Array;
  /** Of a fixed epoch: what it says of the air left over between rover and base. */
  air?: AirShare;
  /** Of a fixed epoch: the integers it stands on. */
  integers?: ReadonlyMap<number, number>;
}
