import { type ReferenceSystem } from '@longheron/core/frames';
import { Ray } from '../casting';
import { type TrueDrive } from '../drive';
import { Stand, type TrueCamera } from '../pictures';
import { meetRelief, trueAirCamera, type AirPhoto } from './pictures';
import { siteRelief } from './relief';

/** A place of the site, metres from its origin and above the levelling. */
export type SitePlace = [number, number, number];

/** What the aircraft's pictures truly show: where a pixel's beam meets the site, and where a place is seen. */
export class AirTruth {
  private readonly stands = new Map<string, Stand>();
  private readonly ray = new Ray();
  private readonly relief = siteRelief();
  private readonly flight: TrueDrive;
  private readonly system: ReferenceSystem;

  constructor(flight: TrueDrive, system: ReferenceSystem) {
    this.flight = flight;
    this.system = system;
  }

  private aim(photo: AirPhoto, x: number, y: number): Ray {
    let stand = this.stands.get(photo.name);
    if (!stand) this.stands.set(photo.name, (stand = new Stand(this.flight, this.system, photo.sow, trueAirCamera())));
    stand.aim(this.ray, -y, x, 1);
    return this.ray;
  }

  /** Where the beam of a pixel meets the site. */
  placeAt(photo: AirPhoto, uPx: number, vPx: number): SitePlace {
    const [x, y] = straightened(photo.camera, uPx, vPx);
    const ray = this.aim(photo, x, y);
    const place = new Float64Array(2);
    meetRelief(this.relief, ray, place);
    // along the beam to there
    const s = (place[1] - ray.y0) / ray.y1;
    const t = (place[0] - ray.x0) / ray.x1;
    return [place[0], place[1], ray.z(Math.abs(ray.y1) > Math.abs(ray.x1) ? s : t)];
  }

  /** Pixel at which a place is seen, whatever lies before it; undefined beside the frame. */
  pixelOf(photo: AirPhoto, [px, py, pz]: SitePlace): [number, number] | undefined {
    let [x, y] = [0, 0];
    for (let round = 0; round < 12; round++) {
      const off = (a: number, b: number): [number, number] => {
        const ray = this.aim(photo, a, b);
        let s = (pz - ray.z0) / ray.z1;
        s -= (ray.z(s) - pz) / (ray.z1 + 2 * s * ray.z2);
        return [ray.x(s) - px, ray.y(s) - py];
      };
      const h = 1e-4;
      const [o, right, down] = [off(x, y), off(x + h, y), off(x, y + h)];
      const [a, c] = [(right[0] - o[0]) / h, (right[1] - o[1]) / h];
      const [b, d] = [(down[0] - o[0]) / h, (down[1] - o[1]) / h];
      const det = a * d - b * c;
      const [dx, dy] = [(d * o[0] - b * o[1]) / det, (a * o[1] - c * o[0]) / det];
      [x, y] = [x - dx, y - dy];
      if (Math.abs(dx) + Math.abs(dy) < 1e-9) break;
    }
    const { camera: k } = photo;
    if (Math.abs(x) * k.focalPx > k.widthPx || Math.abs(y) * k.focalPx > k.heightPx) return undefined;
    const r2 = x * x + y * y;
    const radial = 1 + r2 * (k.k1 + r2 * k.k2);
    const u = k.focalPx * (x * radial + 2 * k.p1 * x * y + k.p2 * (r2 + 2 * x * x)) + k.cxPx;
    const v = k.focalPx * (y * radial + k.p1 * (r2 + 2 * y * y) + 2 * k.p2 * x * y) + k.cyPx;
    return u > -0.5 && v > -0.5 && u < k.widthPx - 0.5 && v < k.heightPx - 0.5 ? [u, v] : undefined;
  }
}

/** Direction of a pixel for a depth of one, before the lens bent it. */
function straightened({ focalPx, cxPx, cyPx, k1, k2, p1, p2 }: TrueCamera, u: number, v: number): [number, number] {
  const [x, y] = [(u - cxPx) / focalPx, (v - cyPx) / focalPx];
  let [a, b] = [x, y];
  for (let i = 0; i < 20; i++) {
    const r2 = a * a + b * b;
    const radial = 1 + r2 * (k1 + r2 * k2);
    [a, b] = [
      (x - 2 * p1 * a * b - p2 * (r2 + 2 * a * a)) / radial,
      (y - p1 * (r2 + 2 * b * b) - 2 * p2 * a * b) / radial,
    ];
  }
  return [a, b];
}
