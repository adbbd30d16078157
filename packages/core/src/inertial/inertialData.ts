/**
 * Raw measurements of an inertial unit in its own axes (x forward, y right, z down). A sample is the mean over the
 * 1/rateHz seconds that end at its time; angular rate is against inertial space, specific force at rest and level is
 * (0, 0, −g).
 */
export interface InertialData {
  /** GPS week that `sow` counts from; never wraps. */
  week: number;
  rateHz: number;
  sow: Float64Array;
  /** n × 3, rad/s. */
  gyroRadps: Float64Array;
  /** n × 3, m/s². */
  accelMps2: Float64Array;
}
