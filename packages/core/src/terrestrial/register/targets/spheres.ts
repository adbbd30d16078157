import { fitSphere } from '../../../accuracy/targets/sphere';
import { type Vector3 } from '../../../numeric/matrix3';
import { CELL_NUMBERS, Voxels } from '../surfaces/voxels';
import { type FoundTarget } from './found';

/** Points in a cell of one radius, and in the block of three about it, from which on it may show a sphere. */
const FEWEST_IN_CELL = 4;
const FEWEST = 20;
/** Around a sphere on its stand there is little else: points in five cells each way over those in three. */
const MOST_AROUND = 0.7;
/** Of the points nearer to the centre than this many radii, the share that must lie on the sphere. */
const NEAR_RADII = 1.35;
const LEAST_ON = 0.8;
/** Scatter about a sphere is no larger, in radii; and its centre no less sure. */
const MOST_SCATTER = 0.06;
const MOST_SD_M = 0.005;
/** What ranges to a sphere share: its centre is no surer, metres. */
const COMMON_M = 0.0003;

/**
 * Finds spheres of a known radius in a scan: small things that stand alone and to which a sphere fits as the points scatter
 * (robust least squares of distances, {@link fitSphere}).
 * @param x, y, z in the scanner's frame, metres. @param facing whether the scanner stood in the origin.
 */
export function findSpheres(
  x: Float64Array,
  y: Float64Array,
  z: Float64Array,
  radiusM: number,
  facing: boolean,
): FoundTarget[] {
  const voxels = new Voxels(radiusM, x.length >> 4);
  voxels.add(x, y, z);
  const seeds = aloneStanding(voxels);
  const points = gather(voxels, seeds, x, y, z);
  const out: FoundTarget[] = [];
  seeds.forEach((seed, k) => {
    const found = fitted(
      points[k].map((c) => Float64Array.from(c)),
      middleOf(voxels, seed),
      radiusM,
      facing,
    );
    if (found && !out.some((o) => Math.hypot(...o.atM.map((v, i) => v - found.atM[i])) < radiusM)) out.push(found);
  });
  return out;
}

/** Cells about which points stand by themselves: of neighbours the fullest. */
function aloneStanding(v: Voxels): number[] {
  const p = v.place;
  const within = (cell: number, half: number): number => {
    let sum = 0;
    for (let i = -half; i <= half; i++)
      for (let j = -half; j <= half; j++)
        for (let k = -half; k <= half; k++) {
          const c = v.find(p[3 * cell] + i, p[3 * cell + 1] + j, p[3 * cell + 2] + k);
          if (c >= 0) sum += v.sums[CELL_NUMBERS * c];
        }
    return sum;
  };
  const found: Array<{ cell: number; inside: number }> = [];
  for (let cell = 0; cell < v.count; cell++) {
    if (v.sums[CELL_NUMBERS * cell] < FEWEST_IN_CELL) continue;
    const inside = within(cell, 1);
    if (inside < FEWEST || within(cell, 2) - inside > MOST_AROUND * inside) continue;
    found.push({ cell, inside });
  }
  found.sort((a, b) => b.inside - a.inside);
  const out: number[] = [];
  for (const { cell } of found) {
    const near = (o: number) => [0, 1, 2].every((k) => Math.abs(p[3 * o + k] - p[3 * cell + k]) <= 2);
    if (!out.some(near)) out.push(cell);
  }
  return out;
}

/** Middle of the points in three cells each way. */
function middleOf(v: Voxels, cell: number): Vector3 {
  const p = v.place;
  const read = new Float64Array(10);
  const sum = [0, 0, 0, 0];
  for (let i = -1; i <= 1; i++)
    for (let j = -1; j <= 1; j++)
      for (let k = -1; k <= 1; k++) {
        const c = v.find(p[3 * cell] + i, p[3 * cell + 1] + j, p[3 * cell + 2] + k);
        if (c < 0) continue;
        v.read(c, read);
        for (let m = 0; m < 3; m++) sum[m] += read[0] * read[m + 1];
        sum[3] += read[0];
      }
  return [sum[0] / sum[3], sum[1] / sum[3], sum[2] / sum[3]];
}

/** Points within two cells of each seed. */
function gather(v: Voxels, seeds: readonly number[], x: Float64Array, y: Float64Array, z: Float64Array): number[][][] {
  const of = new Int32Array(v.count).fill(-1);
  const p = v.place;
  seeds.forEach((cell, k) => {
    for (let i = -2; i <= 2; i++)
      for (let j = -2; j <= 2; j++)
        for (let m = -2; m <= 2; m++) {
          const c = v.find(p[3 * cell] + i, p[3 * cell + 1] + j, p[3 * cell + 2] + m);
          if (c >= 0) of[c] = k;
        }
  });
  const out = seeds.map((): number[][] => [[], [], []]);
  const per = 1 / v.cellM;
  for (let i = 0; i < x.length; i++) {
    const cell = v.find(Math.floor(x[i] * per), Math.floor(y[i] * per), Math.floor(z[i] * per));
    const k = cell < 0 ? -1 : of[cell];
    if (k < 0) continue;
    out[k][0].push(x[i]);
    out[k][1].push(y[i]);
    out[k][2].push(z[i]);
  }
  return out;
}

function fitted([x, y, z]: Float64Array[], middle: Vector3, radiusM: number, facing: boolean): FoundTarget | undefined {
  // a scanner sees the near half: the centre lies behind it
  const range = Math.hypot(...middle);
  const start = facing ? (middle.map((v) => v * (1 + (0.6 * radiusM) / range)) as Vector3) : middle;
  const found = fitSphere(x, y, z, radiusM, start);
  if (typeof found === 'string' || found.rmsM > MOST_SCATTER * radiusM) return undefined;
  const sd = Math.max(...found.sd);
  if (!(sd < MOST_SD_M)) return undefined;
  let [near, on] = [0, 0];
  const most = Math.max(3.5 * found.rmsM, 0.002);
  for (let i = 0; i < x.length; i++) {
    const d = Math.hypot(x[i] - found.center[0], y[i] - found.center[1], z[i] - found.center[2]);
    if (d > NEAR_RADII * radiusM) continue;
    near++;
    if (Math.abs(d - radiusM) < most) on++;
  }
  if (on < FEWEST || on < LEAST_ON * near) return undefined;
  return { kind: 'sphere', atM: found.center, sdM: Math.hypot(sd, COMMON_M), points: found.points, rmsM: found.rmsM };
}
