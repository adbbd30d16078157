import { type ReferenceSystem } from '@longheron/core/frames';
import { Random } from '@longheron/core/numeric';
import { Caster, Ray } from '../casting';
import { ROOF_CAMERA, trueMounting, type NoiseLevel, type TrueDrive } from '../drive';
import { KIND } from '../objects';
import { exposuresOf } from '../occupations';
import { raysOf, shade, SKY, Stand, WATER, type TrueCamera } from '../pictures';

const [widthPx, heightPx] = ROOF_CAMERA.pixels;

/** The camera on the vehicle's roof as it truly is. */
export const TRUE_ROOF_CAMERA: TrueCamera = {
  name: 'roof',
  serial: 'C-0877',
  widthPx,
  heightPx,
  focalPx: 431.4,
  cxPx: 301.2,
  cyPx: 185.6,
  k1: -0.061,
  k2: 0.008,
  p1: 0.0003,
  p2: -0.0002,
};
/** Passes along the road whose pictures were kept. */
const PASSES = 2;
const SEEN_M = 150;

export interface RoofPhoto {
  name: string;
  sow: number;
  takenS: number;
}

/** The photographs that there are of the vehicle's exposures: those of the way there and back. */
export function roofPhotos(drive: TrueDrive): RoofPhoto[] {
  const last = drive.passes[PASSES - 1].endSow;
  return exposuresOf(drive, -Infinity, Infinity).photos.filter((p) => p.sow <= last);
}

/** Draws what the camera saw, three bytes a pixel: each pixel's beam cast against the closed forms. */
export class RoofPainter {
  private readonly caster = new Caster(SEEN_M, 1 / TRUE_ROOF_CAMERA.focalPx, 1);

  constructor(
    private readonly drive: TrueDrive,
    private readonly system: ReferenceSystem,
    private readonly seed: number,
    private readonly level: NoiseLevel,
  ) {}

  draw(photo: RoofPhoto): Uint8Array {
    const rays = raysOf(TRUE_ROOF_CAMERA);
    const stand = new Stand(this.drive, this.system, photo.sow, trueMounting(this.seed, this.level).sensors.camera);
    const random = new Random(this.seed, photo.name);
    const ray = new Ray();
    const out = new Uint8Array((3 * rays.length) / 2);
    for (let p = 0; p < rays.length; p += 2) {
      // ahead, to the right, and down
      stand.aim(ray, 1, rays[p], rays[p + 1]);
      const echoes = this.caster.cast(ray, random);
      const kind = echoes.count ? echoes.kind[0] : beyond(ray);
      const s = echoes.count ? echoes.s[0] : 0;
      const wall = kind > KIND.footway && kind < WATER;
      shade(out, 1.5 * p, ray.x(s), ray.y(s), wall ? ray.z(s) : 0, kind, random.uniform());
    }
    return out;
  }
}

/** What gives no echo: water near by, far land under the horizon, the sky. */
function beyond(ray: Ray): number {
  if (ray.z1 > -0.01) return SKY;
  return -ray.z0 / ray.z1 < SEEN_M ? WATER : KIND.meadow;
}
