import { type Matrix3 } from '../numeric/matrix3';

/**
 * Attitude: body (x forward, y right, z down) to north, east, down: R = Rz(heading)·Ry(pitch)·Rx(roll), active and
 * right-handed. Right side down is positive roll, nose up positive pitch, heading clockwise from true north.
 */
export function rotationFromAngles(rollRad: number, pitchRad: number, headingRad: number): Matrix3 {
  const cr = Math.cos(rollRad),
    sr = Math.sin(rollRad);
  const cp = Math.cos(pitchRad),
    sp = Math.sin(pitchRad);
  const ch = Math.cos(headingRad),
    sh = Math.sin(headingRad);
  return Float64Array.of(
    ch * cp,
    ch * sp * sr - sh * cr,
    ch * sp * cr + sh * sr,
    sh * cp,
    sh * sp * sr + ch * cr,
    sh * sp * cr - ch * sr,
    -sp,
    cp * sr,
    cp * cr,
  );
}

/** Roll, pitch and heading (0…2π) in radians of a rotation; pitch within ±90°. */
export function anglesFromRotation(m: Matrix3): { rollRad: number; pitchRad: number; headingRad: number } {
  const headingRad = Math.atan2(m[3], m[0]);
  return {
    rollRad: Math.atan2(m[7], m[8]),
    pitchRad: Math.asin(Math.max(-1, Math.min(1, -m[6]))),
    headingRad: headingRad < 0 ? headingRad + 2 * Math.PI : headingRad,
  };
}

/** Unit quaternion (w, x, y, z) of Rz(heading)·Ry(pitch)·Rx(roll), written to out[at…at+3]. */
export function quaternionFromAngles(
  rollRad: number,
  pitchRad: number,
  headingRad: number,
  out: Float64Array,
  at = 0,
): void {
  const cr = Math.cos(rollRad / 2),
    sr = Math.sin(rollRad / 2);
  const cp = Math.cos(pitchRad / 2),
    sp = Math.sin(pitchRad / 2);
  const ch = Math.cos(headingRad / 2),
    sh = Math.sin(headingRad / 2);
  out[at] = ch * cp * cr + sh * sp * sr;
  out[at + 1] = ch * cp * sr - sh * sp * cr;
  out[at + 2] = ch * sp * cr + sh * cp * sr;
  out[at + 3] = sh * cp * cr - ch * sp * sr;
}

/**
 * Spherical interpolation between quaternions q[i…] and q[j…] (Shoemake 1985), the shorter way round.
 * Within 2° normalised linear interpolation is used; it differs by less than 1e-6 of the angle there.
 */
export function slerp(q: Float64Array, i: number, j: number, fraction: number, out: Float64Array, at = 0): void {
  let dot = q[i] * q[j] + q[i + 1] * q[j + 1] + q[i + 2] * q[j + 2] + q[i + 3] * q[j + 3];
  const sign = dot < 0 ? -1 : 1;
  dot = Math.abs(dot);
  let wi = 1 - fraction;
  let wj = fraction * sign;
  if (dot < 0.99985) {
    const angle = Math.acos(dot);
    const s = Math.sin(angle);
    wi = Math.sin((1 - fraction) * angle) / s;
    wj = (sign * Math.sin(fraction * angle)) / s;
  }
  const w = wi * q[i] + wj * q[j];
  const x = wi * q[i + 1] + wj * q[j + 1];
  const y = wi * q[i + 2] + wj * q[j + 2];
  const z = wi * q[i + 3] + wj * q[j + 3];
  const norm = 1 / Math.sqrt(w * w + x * x + y * y + z * z);
  out[at] = w * norm;
  out[at + 1] = x * norm;
  out[at + 2] = y * norm;
  out[at + 3] = z * norm;
}

/** Rotation matrix of the unit quaternion at q[at…], written to out. */
export function rotationFromQuaternion(q: Float64Array, at: number, out: Matrix3): void {
  const w = q[at],
    x = q[at + 1],
    y = q[at + 2],
    z = q[at + 3];
  out[0] = 1 - 2 * (y * y + z * z);
  out[1] = 2 * (x * y - w * z);
  out[2] = 2 * (x * z + w * y);
  out[3] = 2 * (x * y + w * z);
  out[4] = 1 - 2 * (x * x + z * z);
  out[5] = 2 * (y * z - w * x);
  out[6] = 2 * (x * z - w * y);
  out[7] = 2 * (y * z + w * x);
  out[8] = 1 - 2 * (x * x + y * y);
}
