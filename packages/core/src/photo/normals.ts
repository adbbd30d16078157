import { moreFloats, moreInts } from '../numeric/grown';
import { smallestAxis } from '../numeric/smallestAxis';

const WIDTH = 10;
const FEWEST = 6;
/** Surfaces are planes where their points lie this much nearer to it than they spread. */
const FLAT = 0.1;
const EMPTY = -1;

/** Directions of surfaces, by cubes of points. */
export interface Normals {
  /** Cube of each point. */
  cube: Int32Array;
  /** Unit normal of each cube, either way; zero where its points are no surface. */
  normal: Float32Array;
}

interface Places {
  count: number;
  x: Float32Array;
  y: Float32Array;
  z: Float32Array;
}

/**
 * Normals of planes through the points of each cube.
 * @param cubeM edge of a cube; several points must lie in one. Coordinates are small numbers about any origin.
 */
export function normalsOf(points: Places, cubeM: number): Normals {
  const { count, x, y, z } = points;
  const cube = new Int32Array(count);
  let mask = (1 << 16) - 1;
  let table = new Int32Array(mask + 1).fill(EMPTY);
  let keys = new Int32Array(3 << 14);
  let sums = new Float64Array(WIDTH << 14);
  let cubes = 0;
  for (let p = 0; p < count; p++) {
    const i = Math.floor(x[p] / cubeM);
    const j = Math.floor(y[p] / cubeM);
    const k = Math.floor(z[p] / cubeM);
    let slot = hash(i, j, k) & mask;
    let found = table[slot];
    while (found !== EMPTY && (keys[3 * found] !== i || keys[3 * found + 1] !== j || keys[3 * found + 2] !== k)) {
      slot = (slot + 1) & mask;
      found = table[slot];
    }
    if (found === EMPTY) {
      found = table[slot] = cubes++;
      if (3 * cubes > keys.length) {
        keys = moreInts(keys);
        sums = moreFloats(sums);
      }
      keys[3 * found] = i;
      keys[3 * found + 1] = j;
      keys[3 * found + 2] = k;
      if (2 * cubes > mask) {
        mask = 2 * mask + 1;
        table = new Int32Array(mask + 1).fill(EMPTY);
        for (let q = 0; q < cubes; q++) {
          let at = hash(keys[3 * q], keys[3 * q + 1], keys[3 * q + 2]) & mask;
          while (table[at] !== EMPTY) at = (at + 1) & mask;
          table[at] = q;
        }
      }
    }
    cube[p] = found;
    const a = x[p] - (i + 0.5) * cubeM;
    const b = y[p] - (j + 0.5) * cubeM;
    const c = z[p] - (k + 0.5) * cubeM;
    const at = WIDTH * found;
    sums[at]++;
    sums[at + 1] += a;
    sums[at + 2] += b;
    sums[at + 3] += c;
    sums[at + 4] += a * a;
    sums[at + 5] += a * b;
    sums[at + 6] += a * c;
    sums[at + 7] += b * b;
    sums[at + 8] += b * c;
    sums[at + 9] += c * c;
  }
  return { cube, normal: planesOf(sums, cubes) };
}

function planesOf(s: Float64Array, cubes: number): Float32Array {
  const out = new Float32Array(3 * cubes);
  const axis = new Float64Array(6);
  for (let i = 0; i < cubes; i++) {
    const at = WIDTH * i;
    const n = s[at];
    if (n < FEWEST) continue;
    const about = (k: number, p: number, q: number) => s[at + k] - (s[at + p] * s[at + q]) / n;
    smallestAxis(about(4, 1, 1), about(5, 1, 2), about(6, 1, 3), about(7, 2, 2), about(8, 2, 3), about(9, 3, 3), axis);
    if (axis[0] < FLAT * axis[1]) out.set(axis.subarray(3, 6), 3 * i);
  }
  return out;
}

function hash(i: number, j: number, k: number): number {
  const h = Math.imul(i, 0x9e3779b1) ^ Math.imul(j, 0x85ebca77) ^ Math.imul(k, 0xc2b2ae3d);
  return h ^ (h >>> 15);
}
