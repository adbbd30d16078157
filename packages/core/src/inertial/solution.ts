import { type Alignment } from './alignment';
import { STATE, STATES } from './errorFilter';
import { type StateRows } from './stateRows';

/** Width of `covariance` by node: upper triangle of 9 × 9. */
export const NODE_COVARIANCE = 45;
/** Width of `unit` by node. */
export const UNIT_WIDTH = STATES - STATE.gyroBias;

/** The unit's own errors, as they are thought to be. */
export interface UnitErrors {
  gyroBias: Float64Array;
  accelBias: Float64Array;
  gyroScale: Float64Array;
  accelScale: Float64Array;
  antenna: Float64Array;
  leverArm: Float64Array;
  /** Axes of the wheels askew in the body, heading and pitch, rad. */
  wheels: Float64Array;
}

/** One comparison of a position with what the unit predicted. */
export interface Innovation {
  sow: number;
  /** Predicted less observed, Earth-centred metres. */
  xyzM: [number, number, number];
  /** Squared and normalised; three degrees of freedom. */
  squared: number;
  /** Logarithm of the determinant of its covariance. */
  logVolume: number;
  used: boolean;
}

/** Smoothed states on every sample, with deviations at the nodes. */
export interface InertialSolution {
  /** First sample of the unit that has a state. */
  first: number;
  count: number;
  /** Position 3, velocity 3, rotation body to Earth 9, by sample. */
  states: StateRows;
  /** Samples of the nodes, counted from `first`, and their smoothed covariances of attitude, velocity, position. */
  nodes: Int32Array;
  covariance: Float64Array;
  /** Smoothed estimates about once a second, at the samples `unitNodes`: biases of gyros and accelerometers, their
   * scales, lasting errors of the antenna, lever arm, heading and pitch of the wheels' axes. */
  unitNodes: Int32Array;
  unit: Float64Array;
  unitSd: Float64Array;
  /**
   * What a heading that accelerations gave is off by, besides, since the axes of accelerometers and gyros are not quite
   * the same; rad, 1 SD.
   */
  axesSdRad: number;
  innovations: Innovation[];
  alignment: Alignment;
  /** States of the filter alone, before smoothing, about once a second: samples of the unit, and 15 numbers each. */
  filtered: { samples: Int32Array; states: Float64Array };
  /** Gaps of the unit's data that were bridged. */
  bridged: Array<{ sow: number; lengthS: number }>;
}
