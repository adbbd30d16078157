/** A camera body as it truly is, pixels. */
export interface TrueCamera {
  name: string;
  serial: string;
  widthPx: number;
  heightPx: number;
  focalPx: number;
  cxPx: number;
  cyPx: number;
  k1: number;
  k2: number;
  p1: number;
  p2: number;
  /** Focal length as it is engraved, mm; pixels of all cameras are 0.01 mm wide. */
  engravedMm?: number;
}

const known = new Map<string, Float32Array>();

/** Directions of all pixels for a depth of one: to the right and downwards in the picture, alternating. */
export function raysOf(camera: TrueCamera): Float32Array {
  const key = JSON.stringify(camera);
  const there = known.get(key) ?? undistorted(camera);
  known.set(key, there);
  return there;
}

function undistorted(camera: TrueCamera): Float32Array {
  const { widthPx, heightPx, focalPx, cxPx, cyPx, k1, k2, p1, p2 } = camera;
  const out = new Float32Array(2 * widthPx * heightPx);
  for (let v = 0; v < heightPx; v++)
    for (let u = 0; u < widthPx; u++) {
      const x = (u - cxPx) / focalPx;
      const y = (v - cyPx) / focalPx;
      let [a, b] = [x, y];
      for (let i = 0; i < 8; i++) {
        const r2 = a * a + b * b;
        const radial = 1 + r2 * (k1 + r2 * k2);
        const na = (x - 2 * p1 * a * b - p2 * (r2 + 2 * a * a)) / radial;
        b = (y - p1 * (r2 + 2 * b * b) - 2 * p2 * a * b) / radial;
        a = na;
      }
      const k = 2 * (v * widthPx + u);
      out[k] = a;
      out[k + 1] = b;
    }
  return out;
}
