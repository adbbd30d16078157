/** Laser returns in columns, sensor frame (x forward, y right, z down). */
export interface LaserReturns {
  week: number;
  sow: Float64Array;
  rangeM: Float32Array;
  /** From x towards y, degrees. */
  azimuthDeg: Float32Array;
  /** Up from the x–y plane, degrees. */
  elevationDeg: Float32Array;
  intensity: Uint16Array;
  returnNumber: Uint8Array;
  returnCount: Uint8Array;
}

/** What the instrument says of its own noise, 1 SD. */
export interface LaserNoise {
  rangeSdM: number;
  /** Of azimuth and of elevation, each. */
  angleSdDeg: number;
}
