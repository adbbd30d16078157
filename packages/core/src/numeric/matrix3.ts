/** 3 × 3 matrices as nine numbers, row after row. */
export type Matrix3 = Float64Array;
export type Vector3 = [number, number, number];

export function multiply3(a: Matrix3, b: Matrix3): Matrix3 {
  const out = new Float64Array(9);
  for (let r = 0; r < 3; r++)
    for (let c = 0; c < 3; c++) out[3 * r + c] = a[3 * r] * b[c] + a[3 * r + 1] * b[3 + c] + a[3 * r + 2] * b[6 + c];
  return out;
}

export function transpose3(a: Matrix3): Matrix3 {
  return Float64Array.of(a[0], a[3], a[6], a[1], a[4], a[7], a[2], a[5], a[8]);
}

export function apply3(m: Matrix3, v: ArrayLike<number>): Vector3 {
  return [
    m[0] * v[0] + m[1] * v[1] + m[2] * v[2],
    m[3] * v[0] + m[4] * v[1] + m[5] * v[2],
    m[6] * v[0] + m[7] * v[1] + m[8] * v[2],
  ];
}
