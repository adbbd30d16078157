/** Georeferenced points in the order of the returns; points outside the trajectory have NaN coordinates. */
export interface PlacedPoints {
  eastingM: Float64Array;
  northingM: Float64Array;
  heightM: Float64Array;
  /** 1 SD, metres, in the directions of easting, northing and height. */
  sdEM: Float32Array;
  sdNM: Float32Array;
  sdHM: Float32Array;
  /** Index of the trajectory interval, −1 outside. */
  interval: Int32Array;
  outside: number;
}

/** Columns to be filled. */
export function emptyPoints(count: number): PlacedPoints {
  return {
    eastingM: new Float64Array(count),
    northingM: new Float64Array(count),
    heightM: new Float64Array(count),
    sdEM: new Float32Array(count),
    sdNM: new Float32Array(count),
    sdHM: new Float32Array(count),
    interval: new Int32Array(count),
    outside: 0,
  };
}
