import { quantile } from '../../../numeric/statistics';
import { smallestAxis } from '../../../numeric/smallestAxis';
import { type Voxels } from './voxels';

/** Plane pieces of the surfaces that a scan shows, in its own frame. */
export interface ScanPatches {
  count: number;
  /** Middle of each, x y z, metres. */
  at: Float64Array;
  /** Unit normals; those of a scanner look towards it. */
  normal: Float64Array;
  /** Edge of the cube that a piece was taken from, metres. */
  sizeM: Float32Array;
  /** Variance of its middle along the normal, m². */
  varianceM2: Float32Array;
  /** Variance of the slope of its normal, radians². */
  slopeVariance: Float32Array;
  /** Whether the normals tell a surface's outside. */
  facing: boolean;
  /** RMS of points about their pieces, the median of all, metres. */
  scatterM: number;
}

/** Ways that pieces may face, coarsely: along an axis, an edge or a corner of a cube. */
export const WAYS = 27;
export function wayOf(normal: Float64Array, piece: number): number {
  const third = (k: number) => Math.round(1.4 * normal[3 * piece + k]) + 1;
  return third(0) + 3 * third(1) + 9 * third(2);
}

/** Edge of the cubes that points are gathered in, metres. */
export const FINEST_M = 0.1;
/** Pieces are looked for in cubes of this edge; smaller where that is no plane, larger where points are few. */
const USUAL_DOUBLINGS = 2;
const LARGEST_DOUBLINGS = 4;
const FEWEST = 8;
/** Pieces that scatter by more than this many times what smooth ones do are no planes. */
const ROUGH = 1.8;
/** Least spread across, in edges: below, points lie along a line. */
const LEAST_SPREAD = 0.12;
/** A middle is no surer than this, metres: surfaces are no planes to less. */
const FLOOR_M = 0.0003;

/**
 * Plane pieces of gathered points: cubes whose points lie in a plane as sharply as the scan's noise lets them (variances of
 * middle and slope by the propagation of that scatter). What is neither is left out.
 * @param fine points in cubes of {@link FINEST_M}. @param facing whether the scanner stood in the origin of the frame.
 */
export function patchesOf(fine: Voxels, facing: boolean): ScanPatches {
  const levels = [fine];
  while (levels.length <= LARGEST_DOUBLINGS) levels.push(levels[levels.length - 1].doubled());
  const limit = roughLimit(levels[USUAL_DOUBLINGS], facing);
  const out = new Pieces(facing);
  // from the usual size down to the finest where something is there that is no plane
  const split = (level: number, cell: number): void => {
    const v = levels[level];
    const n = v.sums[10 * cell];
    if (n < FEWEST || out.take(v, cell, limit) || level === 0) return;
    const p = v.place;
    for (let octant = 0; octant < 8; octant++) {
      const child = levels[level - 1].find(
        2 * p[3 * cell] + (octant & 1),
        2 * p[3 * cell + 1] + ((octant >> 1) & 1),
        2 * p[3 * cell + 2] + (octant >> 2),
      );
      if (child >= 0) split(level - 1, child);
    }
  };
  const usual = levels[USUAL_DOUBLINGS];
  for (let cell = 0; cell < usual.count; cell++) split(USUAL_DOUBLINGS, cell);
  // and up where points are too few: larger cubes none of whose parts had enough
  let scarce = usual;
  for (let level = USUAL_DOUBLINGS + 1; level <= LARGEST_DOUBLINGS; level++) {
    const larger = levels[level];
    const most = new Float64Array(larger.count);
    for (let cell = 0; cell < scarce.count; cell++) {
      const p = scarce.place;
      const parent = larger.find(p[3 * cell] >> 1, p[3 * cell + 1] >> 1, p[3 * cell + 2] >> 1);
      most[parent] = Math.max(most[parent], scarce.sums[10 * cell]);
    }
    for (let cell = 0; cell < larger.count; cell++)
      if (most[cell] < FEWEST && larger.sums[10 * cell] >= FEWEST) out.take(larger, cell, limit);
    scarce = larger;
  }
  return out.done();
}

/**
 * Scatter up to which points are a plane. A scanner's noise lies along its rays: across a plane that it sees aslant there is
 * less of it, so that scatters are compared as they would be along the ray.
 */
function roughLimit(v: Voxels, facing: boolean): number {
  const read = new Float64Array(10);
  const axis = new Float64Array(6);
  const scatter: number[] = [];
  const step = Math.max(1, Math.floor(v.count / 50_000));
  for (let cell = 0; cell < v.count; cell += step) {
    v.read(cell, read);
    if (read[0] < FEWEST) continue;
    smallestAxis(read[4], read[5], read[6], read[7], read[8], read[9], axis);
    scatter.push(Math.sqrt(Math.max(0, axis[0]) / (read[0] - 3)) / (facing ? aslant(read, axis) : 1));
  }
  // in sparse scans nothing says how smooth: larger cubes do
  if (scatter.length < 50 && v.count > 1) return v.cellM > 1 ? 0.02 : roughLimit(v.doubled(), facing);
  return scatter.length ? ROUGH * Math.max(quantile(scatter, facing ? 0.3 : 0.5), 3e-4) : 0.02;
}

/** Part of an error along the ray that lies across the plane; at the least what angles do. */
const aslant = (read: Float64Array, axis: Float64Array): number =>
  Math.max(
    0.06,
    Math.abs(read[1] * axis[3] + read[2] * axis[4] + read[3] * axis[5]) /
      Math.sqrt(read[1] * read[1] + read[2] * read[2] + read[3] * read[3]),
  );

/** Pieces as they are found. */
class Pieces {
  private readonly found: number[] = [];
  private readonly scatter: number[] = [];
  private readonly read = new Float64Array(10);
  private readonly axis = new Float64Array(6);

  constructor(private readonly facing: boolean) {}

  take(v: Voxels, cell: number, limit: number): boolean {
    const { read, axis } = this;
    v.read(cell, read);
    const n = read[0];
    if (n < FEWEST) return false;
    smallestAxis(read[4], read[5], read[6], read[7], read[8], read[9], axis);
    const variance = Math.max(axis[0], 0) / (n - 3);
    const most = this.facing ? limit * aslant(read, axis) : limit;
    if (Math.sqrt(variance) > most || axis[1] / n < (LEAST_SPREAD * v.cellM) ** 2) return false;
    // towards the scanner in the origin
    const towards = this.facing ? -(axis[3] * read[1] + axis[4] * read[2] + axis[5] * read[3]) : 1;
    const sign = towards < 0 ? -1 : 1;
    this.found.push(
      read[1],
      read[2],
      read[3],
      sign * axis[3],
      sign * axis[4],
      sign * axis[5],
      v.cellM,
      variance / n + FLOOR_M ** 2,
      variance / axis[1],
    );
    this.scatter.push(Math.sqrt(variance));
    return true;
  }

  done(): ScanPatches {
    const f = this.found;
    const count = f.length / 9;
    const out: ScanPatches = {
      count,
      at: new Float64Array(3 * count),
      normal: new Float64Array(3 * count),
      sizeM: new Float32Array(count),
      varianceM2: new Float32Array(count),
      slopeVariance: new Float32Array(count),
      facing: this.facing,
      scatterM: count ? quantile(this.scatter, 0.5) : Number.NaN,
    };
    for (let p = 0; p < count; p++) {
      for (let k = 0; k < 3; k++) {
        out.at[3 * p + k] = f[9 * p + k];
        out.normal[3 * p + k] = f[9 * p + 3 + k];
      }
      out.sizeM[p] = f[9 * p + 6];
      out.varianceM2[p] = f[9 * p + 7];
      out.slopeVariance[p] = f[9 * p + 8];
    }
    return out;
  }
}
