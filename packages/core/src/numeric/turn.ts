import { type Matrix3 } from './matrix3';

/** The turn about an axis by its length, radians (Rodrigues). */
export function turnOf(x: number, y: number, z: number): Matrix3 {
  const angle = Math.hypot(x, y, z);
  const a = angle > 1e-9 ? Math.sin(angle) / angle : 1;
  const b = angle > 1e-9 ? (1 - Math.cos(angle)) / angle ** 2 : 0.5;
  return Float64Array.of(
    1 - b * (y * y + z * z),
    b * x * y - a * z,
    b * x * z + a * y,
    b * x * y + a * z,
    1 - b * (x * x + z * z),
    b * y * z - a * x,
    b * x * z - a * y,
    b * y * z + a * x,
    1 - b * (x * x + y * y),
  );
}
