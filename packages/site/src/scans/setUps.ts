import { type ReferenceSystem } from '@longheron/core/frames';
import { Random } from '@longheron/core/numeric';
import { groundAt, roadCentreX, SITE_ORIGIN_E, SITE_ORIGIN_N } from '../terrain';
import { nearby, type Nearby } from '../platform';

/** Radius of the spheres, metres. */
export const SPHERE_M = 0.1;

/** A point on the site, metres, height above sea. */
export interface ScanPoint {
  name: string;
  x: number;
  y: number;
  heightM: number;
}

/** A scanner as it truly stood. */
export interface TrueScanner extends ScanPoint {
  /** Bearing of its y axis from true north, and what its axes are turned by about x and y besides, radians. */
  azimuthRad: number;
  tiltRad: [number, number];
  near: Nearby;
}

const DEG = Math.PI / 180;
const LEVEL_DEG = 0.003;
/** Along the road below the rail bridge: place on the road, distance from its middle. */
const STANDS: ReadonlyArray<readonly [y: number, across: number]> = [
  [286, 4.4],
  [303, -4.3],
  [320, 4.2],
  [337, -4.2],
  [354, 4.3],
  [371, -4.4],
];
const SPHERES: ReadonlyArray<readonly [y: number, across: number, overM: number]> = [
  [281, -5, 1.1],
  [289, -4.6, 0.3],
  [294, 4.9, 1.2],
  [300, 5.1, 0.3],
  [308, 4.8, 0.9],
  [313, -5, 1.4],
  [319, -4.9, 0.2],
  [326, 4.9, 1.3],
  [329, -4.7, 1.5],
  [334, 4.8, 0.3],
  [341, 4.9, 1.6],
  [346, -5, 0.4],
  [351, -4.9, 1.2],
  [359, -4.8, 0.3],
  [364, 4.9, 1.1],
  [369, 4.6, 1.5],
  [377, 5, 0.4],
  [380, -4.9, 1.2],
];

const onRoad = (y: number, across: number, overM: number): Omit<ScanPoint, 'name'> => {
  const x = roadCentreX(y) + across;
  return { x, y, heightM: groundAt(x, y) + overM };
};

/** Centres of the spheres on their stands. */
export const spheres = (): ScanPoint[] =>
  SPHERES.map(([y, across, overM], k) => ({ name: `B${k + 1}`, ...onRoad(y, across, overM) }));

/** Spheres that were surveyed. */
export const SURVEYED = ['B1', 'B6', 'B11', 'B18'];

/** Scanners with the places of their zeros; each stands turned and tilted by chance. */
export function scanners(seed: number, system: ReferenceSystem): TrueScanner[] {
  const random = new Random(seed, 'scanners');
  const geo = new Float64Array(3);
  return STANDS.map(([y, across], k) => {
    const at = onRoad(y, across, 1.55 + 0.04 * (k % 3));
    system.unproject(SITE_ORIGIN_E + at.x, SITE_ORIGIN_N + at.y, at.heightM, geo);
    return {
      name: `stand_${k + 1}`,
      ...at,
      azimuthRad: random.between(0, 2 * Math.PI),
      tiltRad: [LEVEL_DEG * DEG * random.normal(), LEVEL_DEG * DEG * random.normal()],
      near: nearby(system, geo[0], geo[1], geo[2]),
    };
  });
}

/** A direction of the scanner (x right, y ahead, z up) in north, east, down of its place. */
export function toNed({ azimuthRad, tiltRad: [tx, ty] }: TrueScanner, x: number, y: number, z: number): number[] {
  // turned about its x and y axes first, by angles so small that their order is none
  const right = x + ty * z;
  const ahead = y - tx * z;
  const up = z + tx * y - ty * x;
  const [sin, cos] = [Math.sin(azimuthRad), Math.cos(azimuthRad)];
  return [cos * ahead - sin * right, sin * ahead + cos * right, -up];
}

/** And the way back. */
export function fromNed({ azimuthRad, tiltRad: [tx, ty] }: TrueScanner, n: number, e: number, d: number): number[] {
  const [sin, cos] = [Math.sin(azimuthRad), Math.cos(azimuthRad)];
  const [right, ahead, up] = [cos * e - sin * n, cos * n + sin * e, -d];
  return [right - ty * up, ahead + tx * up, up - tx * ahead + ty * right];
}
