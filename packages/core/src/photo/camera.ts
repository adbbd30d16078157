/**
 * A frame camera with lens distortion after Brown (1971), in pixels. Pixel (0, 0) is the centre of the upper left pixel, x
 * right, y down; the camera's frame has x right and y down in the picture, z along the view.
 */
export interface Camera {
  /**
   * A frame behind a lens, or a full panorama: columns are equal angles about the camera's y axis from behind to behind, rows
   * equal angles from straight up to straight down, and its middle looks along z. A panorama's focal length is its pixels
   * to a radian, width/2π; it has no distortion.
   */
  model?: 'frame' | 'sphere';
  widthPx: number;
  heightPx: number;
  focalPx: number;
  cxPx: number;
  cyPx: number;
  k1: number;
  k2: number;
  k3: number;
  p1: number;
  p2: number;
}

/** Beyond the corner of the frame by this share the polynomials may fold back and are not believed. */
const BEYOND_CORNER = 1.15;

/**
 * Projects places of the camera's frame into its picture. Places beside the frame are refused before the distortion is
 * applied, since its polynomials hold within the frame alone.
 */
export class Projector {
  private readonly radius2: number;
  readonly camera: Camera;
  /** How far the frame reaches before the lens bends it, in units of the focal length. */
  left = 0;
  right = 0;
  top = 0;
  bottom = 0;

  constructor(camera: Camera) {
    this.camera = camera;
    this.radius2 = 0;
    if (camera.model === 'sphere') return;
    const { widthPx, heightPx, focalPx, cxPx, cyPx } = camera;
    let most = 0;
    const across = [-0.5, 0.25 * widthPx, 0.5 * widthPx, 0.75 * widthPx, widthPx - 0.5];
    const down = [-0.5, 0.25 * heightPx, 0.5 * heightPx, 0.75 * heightPx, heightPx - 0.5];
    for (const u of across)
      for (const v of down) {
        const [x, y] = undistorted(camera, (u - cxPx) / focalPx, (v - cyPx) / focalPx);
        most = Math.max(most, x * x + y * y);
        this.left = Math.min(this.left, x);
        this.right = Math.max(this.right, x);
        this.top = Math.min(this.top, y);
        this.bottom = Math.max(this.bottom, y);
      }
    this.radius2 = most * BEYOND_CORNER ** 2;
  }

  /**
   * @param x, y, z in the camera's frame, any one unit. @param out pixel u, v.
   * @returns whether it lies in the picture.
   */
  project(x: number, y: number, z: number, out: Float64Array): boolean {
    if (this.camera.model === 'sphere') return intoSphere(this.camera, x, y, z, out);
    if (!(z > 0)) return false;
    const { widthPx, heightPx, focalPx, cxPx, cyPx, k1, k2, k3, p1, p2 } = this.camera;
    const a = x / z;
    const b = y / z;
    const r2 = a * a + b * b;
    if (r2 > this.radius2) return false;
    const radial = 1 + r2 * (k1 + r2 * (k2 + r2 * k3));
    const u = focalPx * (a * radial + 2 * p1 * a * b + p2 * (r2 + 2 * a * a)) + cxPx;
    const v = focalPx * (b * radial + p1 * (r2 + 2 * b * b) + 2 * p2 * a * b) + cyPx;
    out[0] = u;
    out[1] = v;
    return u >= -0.5 && v >= -0.5 && u < widthPx - 0.5 && v < heightPx - 0.5;
  }
}

/** Pixel of a direction in a panorama, columns from −½ on. @returns whether there is a direction at all. */
function intoSphere({ widthPx, focalPx, cxPx, cyPx }: Camera, x: number, y: number, z: number, out: Float64Array) {
  const u = focalPx * Math.atan2(x, z) + cxPx;
  out[0] = u >= widthPx - 0.5 ? u - widthPx : u < -0.5 ? u + widthPx : u;
  out[1] = focalPx * Math.atan2(y, Math.sqrt(x * x + z * z)) + cyPx;
  return x * x + y * y + z * z > 0;
}

/** Direction of a pixel in the camera's frame, unit length. */
export function directionOf(camera: Camera, uPx: number, vPx: number): [number, number, number] {
  const a = (uPx - camera.cxPx) / camera.focalPx;
  const b = (vPx - camera.cyPx) / camera.focalPx;
  if (camera.model === 'sphere') return [Math.sin(a) * Math.cos(b), Math.sin(b), Math.cos(a) * Math.cos(b)];
  const [x, y] = undistorted(camera, a, b);
  const length = Math.sqrt(x * x + y * y + 1);
  return [x / length, y / length, 1 / length];
}

/** Terms of the camera of a full panorama: its size says all of them. */
export function sphereOf(widthPx: number, heightPx: number): Camera {
  return {
    model: 'sphere',
    widthPx,
    heightPx,
    focalPx: widthPx / (2 * Math.PI),
    cxPx: (widthPx - 1) / 2,
    cyPx: (heightPx - 1) / 2,
    k1: 0,
    k2: 0,
    k3: 0,
    p1: 0,
    p2: 0,
  };
}

/** The way of a ray before the lens bent it, from where it meets the picture in units of the focal length, by repetition. */
export function undistorted(camera: Camera, x: number, y: number): [number, number] {
  const { k1, k2, k3, p1, p2 } = camera;
  let [a, b] = [x, y];
  for (let i = 0; i < 30; i++) {
    const r2 = a * a + b * b;
    const radial = 1 + r2 * (k1 + r2 * (k2 + r2 * k3));
    const [na, nb] = [
      (x - 2 * p1 * a * b - p2 * (r2 + 2 * a * a)) / radial,
      (y - p1 * (r2 + 2 * b * b) - 2 * p2 * a * b) / radial,
    ];
    const moved = Math.abs(na - a) + Math.abs(nb - b);
    [a, b] = [na, nb];
    if (moved < 1e-12) break;
  }
  return [a, b];
}
