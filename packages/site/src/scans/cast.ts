import { geodeticToEcef, GRS80, type ReferenceSystem } from '@longheron/core/frames';
import { Random } from '@longheron/core/numeric';
import { Caster, Ray } from '../casting';
import { NOISE_FACTOR, type NoiseLevel } from '../drive/noise';
import { KIND } from '../objects';
import { SITE_ORIGIN_E, SITE_ORIGIN_N } from '../terrain';
import { fromNed, SPHERE_M, spheres, toNed, type ScanPoint, type TrueScanner } from './setUps';

/** A scan as its instrument writes it: metres in its own frame, and how bright. */
export interface Scan {
  count: number;
  x: Float64Array;
  y: Float64Array;
  z: Float64Array;
  intensity: Uint16Array;
}

const DEG = Math.PI / 180;
const RANGE_M = 0.003;
const ANGLE_DEG = 0.003;
const FARTHEST_M = 45;
const BEAM_RAD = 0.0003;
/** How far its list of targets reaches, and how well it knows a centre. */
const TARGET_FAR_M = 26;
const TARGET_SD_M = 0.001;
const LOWEST_DEG = -55;
const HIGHEST_DEG = 80;

const BRIGHT: { readonly [kind: number]: number } = {
  [KIND.road]: 9000,
  [KIND.kerb]: 21000,
  [KIND.footway]: 17000,
  [KIND.grass]: 30000,
  [KIND.meadow]: 30000,
  [KIND.building]: 26000,
  [KIND.bridge]: 23000,
  [KIND.vegetation]: 34000,
};
const SPHERE_BRIGHT = 60000;
const OTHER_BRIGHT = 20000;

/** Centre of a sphere in the scanner's frame, by straight lines of space. */
export function centreIn(scanner: TrueScanner, p: ScanPoint, system: ReferenceSystem): number[] {
  const geo = new Float64Array(3);
  const at = (q: ScanPoint) => {
    system.unproject(SITE_ORIGIN_E + q.x, SITE_ORIGIN_N + q.y, q.heightM, geo);
    return geodeticToEcef(GRS80, geo[0], geo[1], geo[2]);
  };
  const [a, b] = [at(scanner), at(p)];
  const { axes } = scanner.near;
  const ned = [0, 3, 6].map((r) => [0, 1, 2].reduce((s, k) => s + axes[r + k] * (b[k] - a[k]), 0));
  return fromNed(scanner, ned[0], ned[1], ned[2]);
}

/** Distance along a direction to a sphere; infinite where it passes by. */
function meetSphere(c: readonly number[], d: readonly number[]): number {
  const along = c[0] * d[0] + c[1] * d[1] + c[2] * d[2];
  const off2 = c[0] ** 2 + c[1] ** 2 + c[2] ** 2 - along ** 2;
  return along > 0 && off2 < SPHERE_M ** 2 ? along - Math.sqrt(SPHERE_M ** 2 - off2) : Infinity;
}

/** All round from one stand, a point where the first echo comes from. @param stepDeg between beams. */
export function castScan(
  scanner: TrueScanner,
  system: ReferenceSystem,
  { seed, level, stepDeg }: { seed: number; level: NoiseLevel; stepDeg: number },
): Scan {
  const random = new Random(seed, `scan ${scanner.name}`);
  const factor = NOISE_FACTOR[level];
  const caster = new Caster(FARTHEST_M, BEAM_RAD, 1);
  const ray = new Ray();
  const centres = spheres()
    .map((p) => centreIn(scanner, p, system))
    .filter((c) => Math.hypot(...c) < FARTHEST_M);
  const out: number[][] = [];
  for (let row = LOWEST_DEG; row <= HIGHEST_DEG; row += stepDeg)
    for (let turn = 0; turn < 360; turn += stepDeg) {
      const direction = (a: number, e: number) => [Math.cos(e) * Math.sin(a), Math.cos(e) * Math.cos(a), Math.sin(e)];
      const d = direction(turn * DEG, row * DEG);
      const [n, e, down] = toNed(scanner, d[0], d[1], d[2]);
      ray.fromMap(scanner.near.c, 0, 0, 0, n, e, down, SITE_ORIGIN_E, SITE_ORIGIN_N);
      const echoes = caster.cast(ray, random);
      const sphere = Math.min(...centres.map((c) => meetSphere(c, d)));
      const hard = echoes.count ? echoes.s[0] : Infinity;
      const range = Math.min(sphere, hard);
      if (!(range < FARTHEST_M)) continue;
      const kind = sphere < hard ? SPHERE_BRIGHT : (BRIGHT[echoes.kind[0]] ?? OTHER_BRIGHT);
      const read = range + factor * RANGE_M * random.normal();
      const error = () => factor * ANGLE_DEG * DEG * random.normal();
      const told = direction(turn * DEG + error() / Math.cos(row * DEG), row * DEG + error());
      out.push([read * told[0], read * told[1], read * told[2], kind * (0.9 + 0.2 * random.uniform())]);
    }
  const column = (k: number) => Float64Array.from(out, (p) => p[k]);
  return {
    count: out.length,
    x: column(0),
    y: column(1),
    z: column(2),
    intensity: Uint16Array.from(out, (p) => Math.round(p[3])),
  };
}

/** Centres that the instrument found on the spot, of spheres that nothing hides: its own list. */
export function listedTargets(
  scanner: TrueScanner,
  system: ReferenceSystem,
  { seed, level }: { seed: number; level: NoiseLevel },
): Array<{ target: string; at: number[]; sdM: number }> {
  const random = new Random(seed, `targets ${scanner.name}`);
  const factor = NOISE_FACTOR[level];
  const caster = new Caster(FARTHEST_M, BEAM_RAD, 1);
  const ray = new Ray();
  return spheres().flatMap((p) => {
    const c = centreIn(scanner, p, system);
    const far = Math.hypot(...c);
    if (far > TARGET_FAR_M) return [];
    const [n, e, down] = toNed(scanner, c[0] / far, c[1] / far, c[2] / far);
    ray.fromMap(scanner.near.c, 0, 0, 0, n, e, down, SITE_ORIGIN_E, SITE_ORIGIN_N);
    const echoes = caster.cast(ray, random);
    if (echoes.count && echoes.s[0] < far - SPHERE_M) return [];
    return [{ target: p.name, at: c.map((v) => v + factor * TARGET_SD_M * random.normal()), sdM: TARGET_SD_M }];
  });
}
