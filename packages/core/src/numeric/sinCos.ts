const DEG = Math.PI / 180;

/**
 * Sine and cosine of an angle in degrees, both at once and without a call into the runtime: out[0] = sine,
 * out[1] = cosine. Taking away quarter turns is exact in degrees; within an eighth of a turn the polynomials of
 * Sun's freely distributed mathematical library (1993, k_sin and k_cos) are good to the last bit or two.
 * Angles of more than 1e9 degrees, and none at all, give NaN.
 */
export function sinCosDeg(angleDeg: number, out: Float64Array): void {
  const quarters = Math.floor(angleDeg * (1 / 90) + 0.5);
  if (!(quarters > -1e7 && quarters < 1e7)) {
    out[0] = out[1] = Number.NaN;
    return;
  }
  const x = (angleDeg - 90 * quarters) * DEG;
  const z = x * x;
  const s =
    x +
    x *
      z *
      (-1.66666666666666324348e-1 +
        z *
          (8.33333333332248946124e-3 +
            z *
              (-1.98412698298579493134e-4 +
                z * (2.75573137070700676789e-6 + z * (-2.50507602534068634195e-8 + z * 1.58969099521155010221e-10)))));
  const c =
    1 -
    (0.5 * z -
      z *
        z *
        (4.16666666666666019037e-2 +
          z *
            (-1.38888888888741095749e-3 +
              z *
                (2.48015872894767294178e-5 +
                  z *
                    (-2.75573143513906633035e-7 + z * (2.0875723212981748279e-9 + z * -1.13596475577881948265e-11))))));
  const turn = quarters & 3;
  const swapped = (turn & 1) === 1;
  const sine = swapped ? c : s;
  const cosine = swapped ? s : c;
  out[0] = turn >= 2 ? -sine : sine;
  out[1] = turn === 1 || turn === 2 ? -cosine : cosine;
}
