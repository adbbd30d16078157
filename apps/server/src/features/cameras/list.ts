import { type KeptCameraDto, type MadeCamerasDto } from '@longheron/contract/api';
import { type PhotoGroup } from '@longheron/core/photo';
import { HttpError } from '../../http/errors';

/**
 * A lens that was carried and mounted again is not where it was: what is kept is not taken for better than this, of the
 * focal length and of the middle in pixels.
 */
const AGAIN_PX = 2;
/** Nominal values are good to these shares of the focal length and of the width. */
const NOMINAL_FOCAL = 0.03;
const NOMINAL_MIDDLE = 0.01;

/** A list of cameras for groups of photographs. @throws HttpError for a group that nothing is known of. */
export function listOfCameras(
  groups: readonly PhotoGroup[],
  library: readonly KeptCameraDto[],
  set: string,
): { json: string; cameras: MadeCamerasDto['cameras'] } {
  const out: { [name: string]: object } = {};
  const cameras: MadeCamerasDto['cameras'] = [];
  for (const g of groups) {
    const name = freeName(g, out);
    const own = library.find(
      (k) => k.serial !== '' && k.serial === g.serial && k.widthPx === g.widthPx && k.heightPx === g.heightPx,
    );
    if (own) {
      const sd = own.camera.sd as { [term: string]: number } | undefined;
      const looser = Object.fromEntries(
        Object.entries(sd ?? {}).map(([term, v]) => [term, term.endsWith('_px') ? Math.max(v, AGAIN_PX) : v]),
      );
      const { correlation: _correlation, ...camera } = own.camera;
      out[name] = { ...camera, sd: looser, images: g.names };
    } else {
      const { widthPx, heightPx, focalPx } = g;
      if (widthPx && widthPx === 2 * (heightPx ?? 0) && !focalPx) {
        // no lens draws that: a stitched panorama
        out[name] = {
          ...(g.serial ? { body_serial: g.serial } : {}),
          model: 'sphere',
          width_px: widthPx,
          height_px: heightPx,
          images: g.names,
        };
        cameras.push({ name, from: 'panorama', photographs: g.names.length });
        continue;
      }
      if (!widthPx || !heightPx || !focalPx)
        throw new HttpError(
          422,
          `The focal length of ${name} is not known: neither library nor EXIF say it in pixels.`,
          {
            code: 'camera-unknown',
            file: set,
            place: g.names[0],
            remedy: 'Import a list of cameras (JSON) with focal_px: focal length over the size of a pixel.',
          },
        );
      out[name] = {
        ...(g.serial ? { body_serial: g.serial } : {}),
        ...(g.lens ? { lens: [g.lens, g.lensSerial].filter(Boolean).join(' ') } : {}),
        width_px: widthPx,
        height_px: heightPx,
        focal_px: Number(focalPx.toFixed(2)),
        sd: {
          focal_px: Number((NOMINAL_FOCAL * focalPx).toFixed(1)),
          cx_px: Number((NOMINAL_MIDDLE * widthPx).toFixed(1)),
          cy_px: Number((NOMINAL_MIDDLE * widthPx).toFixed(1)),
        },
        from: 'nominal',
        images: g.names,
      };
    }
    cameras.push({ name, from: own ? 'library' : 'EXIF', photographs: g.names.length });
  }
  return { json: `${JSON.stringify({ cameras: out }, null, 2)}\n`, cameras };
}

/** A name that tells cameras apart: the model, with serial and focal length where one alone would not. */
function freeName(g: PhotoGroup, taken: { [name: string]: object }): string {
  const tries = [
    g.camera || g.serial || 'camera',
    [g.camera, g.serial].filter(Boolean).join(' '),
    [g.camera, g.serial, g.focalMm && `${g.focalMm} mm`, g.widthPx].filter(Boolean).join(' '),
  ];
  const free = tries.find((t) => t && !(t in taken));
  if (free) return free;
  let k = 2;
  while (`${tries[0]} ${k}` in taken) k++;
  return `${tries[0]} ${k}`;
}
