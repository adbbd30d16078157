/** Ellipse of a place's error in plan. */
export interface Ellipse {
  /** Half axes, metres. */
  majorM: number;
  minorM: number;
  /** Bearing of the major axis, radians from north by east, 0 to π. */
  bearingRad: number;
}

/** @param covariance north, east, down, 3 × 3, metres². */
export function ellipseOf(covariance: ArrayLike<number>): Ellipse {
  const [nn, ne, ee] = [covariance[0], covariance[1], covariance[4]];
  const middle = (nn + ee) / 2;
  const half = Math.hypot((nn - ee) / 2, ne);
  const angle = Math.atan2(2 * ne, nn - ee) / 2;
  return {
    majorM: Math.sqrt(Math.max(0, middle + half)),
    minorM: Math.sqrt(Math.max(0, middle - half)),
    bearingRad: (angle + Math.PI) % Math.PI,
  };
}

/** R·C·Rᵀ of 3 × 3 matrices. */
export function turned(r: ArrayLike<number>, c: ArrayLike<number>): Float64Array {
  const out = new Float64Array(9);
  for (let i = 0; i < 3; i++)
    for (let j = 0; j < 3; j++) {
      let v = 0;
      for (let a = 0; a < 3; a++) for (let b = 0; b < 3; b++) v += r[3 * i + a] * c[3 * a + b] * r[3 * j + b];
      out[3 * i + j] = v;
    }
  return out;
}
