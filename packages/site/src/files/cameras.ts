import { Random } from '@longheron/core/numeric';
import { type TrueCamera } from '../pictures';

/** Calibrated shortly before: focal length and middle to so much, 1 SD, pixels. */
const CALIBRATED_PX = { focal: 0.2, middle: 0.1 };

/** A list of cameras as calibrated: the true ones, but for the calibration's own errors. */
export function camerasText(seed: number, bodies: ReadonlyArray<{ camera: TrueCamera; photos: string[] }>): string {
  const cameras = bodies.map(({ camera: c, photos }) => {
    const r = new Random(seed, `calibration ${c.name}`);
    const near = (v: number, sd: number) => Number((v + sd * r.normal()).toFixed(2));
    return [
      c.name,
      {
        body_serial: c.serial,
        lens: '',
        width_px: c.widthPx,
        height_px: c.heightPx,
        focal_px: near(c.focalPx, CALIBRATED_PX.focal),
        cx_px: near(c.cxPx, CALIBRATED_PX.middle),
        cy_px: near(c.cyPx, CALIBRATED_PX.middle),
        k1: c.k1,
        k2: c.k2,
        k3: 0,
        p1: c.p1,
        p2: c.p2,
        sd: { focal_px: CALIBRATED_PX.focal, cx_px: CALIBRATED_PX.middle, cy_px: CALIBRATED_PX.middle },
        from: 'adjusted',
        date: '2026-06-02',
        images: photos,
      },
    ];
  });
  return `${JSON.stringify({ cameras: Object.fromEntries(cameras) }, null, 2)}\n`;
}
