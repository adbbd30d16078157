import { type AnglesDeg, type ReferenceSystem, type SensorMounting } from '@longheron/core/frames';
import { Random } from '@longheron/core/numeric';
import { Ray } from '../casting';
import { AIR_MOUNT, GPS_WEEK, type TrueDrive } from '../drive';
import { KIND } from '../objects';
import { exposureTimes } from '../occupations';
import { raysOf, shade, Stand, type TrueCamera } from '../pictures';
import { SITE_LENGTH_M } from '../terrain';
import { siteRelief, type Relief } from './relief';

const SIZE = { widthPx: 1200, heightPx: 800 };
/** As the makers state it. */
export const NOMINAL_FOCAL_PX = 1480;
/** Two bodies, one a sortie: the first three lines and the others. */
export const AIR_CAMERAS: readonly TrueCamera[] = [
  {
    name: 'body 1',
    serial: 'C-1180',
    ...SIZE,
    focalPx: 1497.4,
    cxPx: 603.1,
    cyPx: 396.8,
    k1: -0.041,
    k2: 0.018,
    p1: 0.0004,
    p2: -0.0003,
    engravedMm: 14.8,
  },
  {
    name: 'body 2',
    serial: 'C-1193',
    ...SIZE,
    focalPx: 1458.9,
    cxPx: 595.2,
    cyPx: 402.6,
    k1: -0.028,
    k2: 0.009,
    p1: -0.0002,
    p2: 0.0005,
    engravedMm: 14.8,
  },
];
const FIRST_SORTIE_LINES = 3;
/** How the camera truly hangs against its mounting. */
const HANGS_DEG: AnglesDeg = { roll: 0.004, pitch: -0.003, heading: 0.008 };
/** The camera as it truly hangs there, its axes those of the body but for that. */
export const trueAirCamera = (): SensorMounting => ({ ...AIR_MOUNT, boresightDeg: { ...HANGS_DEG } });
const EXPOSURE_M = 55;
/** Pictures are taken from so far before the site to so far behind it. */
const BESIDE_M = 9;
/** The cameras' clock is ahead of UTC by this; GPS time is 18 s ahead of UTC. */
const CLOCK_S = 5.3;
const LEAP_S = 18;
const GPS_UNIX = 315_964_800;

export interface AirPhoto {
  name: string;
  sow: number;
  camera: TrueCamera;
  takenS: number;
}

/** The photographs: every 55 m of the lines along the site, by the body of the sortie. */
export function airPhotos(flight: TrueDrive): AirPhoto[] {
  const [first, last] = [flight.passes[0], flight.passes[flight.passes.length - 2]];
  return exposureTimes(flight, EXPOSURE_M, first.startSow, last.endSow)
    .filter((t) => {
      const y = flight.y[Math.round((t - flight.startSow) / flight.stepS)];
      return y > -BESIDE_M && y < SITE_LENGTH_M + BESIDE_M;
    })
    .map((sow, k) => {
      const line = flight.passes.findIndex((p) => sow >= p.startSow && sow <= p.endSow);
      return {
        name: `air_${String(k + 1).padStart(3, '0')}.jpg`,
        sow,
        camera: AIR_CAMERAS[line < FIRST_SORTIE_LINES ? 0 : 1],
        takenS: Math.floor(GPS_WEEK * 604800 + sow + GPS_UNIX - LEAP_S + CLOCK_S),
      };
    });
}

/** Times of the camera's events: one stray at power-on, then the exposures. */
export const airEvents = (flight: TrueDrive): number[] => {
  const sow = airPhotos(flight).map((p) => p.sow);
  return [sow[0] - 61.4, ...sow];
};

/** What the camera saw: three bytes a pixel, drawn from the relief and its texture. */
export function drawAirPhoto(flight: TrueDrive, system: ReferenceSystem, photo: AirPhoto, seed: number): Uint8Array {
  const rays = raysOf(photo.camera);
  const stand = new Stand(flight, system, photo.sow, trueAirCamera());
  const relief = siteRelief();
  const ray = new Ray();
  const random = new Random(seed, photo.name);
  const out = new Uint8Array((3 * rays.length) / 2);
  const place = new Float64Array(2);
  for (let p = 0; p < rays.length; p += 2) {
    // the top of the picture is ahead
    stand.aim(ray, -rays[p + 1], rays[p], 1);
    const kind = meetRelief(relief, ray, place);
    shade(out, 1.5 * p, place[0], place[1], 0, kind, random.uniform());
  }
  return out;
}

/** Steps over the relief, metres along a beam, and above blocks. */
const STEP_M = 0.12;

/** Where a beam comes to the relief, into `place`; the kind of what is there. */
export function meetRelief(relief: Relief, ray: Ray, place: Float64Array): number {
  const { cellM, columns, rows, heightM, kind, block, blockColumns, topM } = relief;
  let s = (40 - ray.z0) / ray.z1;
  for (let n = 0; n < 4000; n++) {
    const x = ray.x(s);
    const y = ray.y(s);
    const z = ray.z(s);
    const c = Math.floor(x / cellM);
    const r = Math.floor(y / cellM);
    if (c < 0 || r < 0 || c >= columns || r >= rows) {
      // beside the site level ground goes on
      if (z < 3) {
        place[0] = x;
        place[1] = y;
        return KIND.meadow;
      }
      s += 0.5;
      continue;
    }
    const top = topM[Math.floor(r / block) * blockColumns + Math.floor(c / block)];
    if (z > top + 0.3) {
      // nothing reaches up here: down to the block's top, no further than to its edge
      s += Math.min((z - top) / -ray.z1, 1.5);
      continue;
    }
    const k = r * columns + c;
    const gap = z - heightM[k];
    if (gap <= 0) {
      place[0] = x;
      place[1] = y;
      return kind[k];
    }
    s += gap > 0.5 ? STEP_M : Math.max(0.01, Math.min(STEP_M, gap / -ray.z1));
  }
  return KIND.meadow;
}
