import { solveNormal } from '../../numeric/leastSquares';
import { type SharedCell } from './cells';
import { TERMS, type Moving } from './lines';
import { AXES, ENTRIES, Unknowns, type LineFreedom } from './unknowns';

export interface PatchStep {
  /** Corrections of the terms, degrees and seconds; those held are 0. */
  by: Float64Array;
  /** Their covariance from residuals that hang together within blocks, and from what lines may be off by. */
  covariance: Float64Array;
  /** 1 where a term is held: nothing tells it. */
  held: Uint8Array;
}

/** Residuals nearer to each other than this are taken to hang together, metres. */
const BLOCK_M = 12;
/** A term that would be known no better than this is held: degrees, seconds. */
const WORST_SD = [1, 2, 2, 0.3];

/**
 * One step of least squares: in each cell one plane for all lines (eliminated), for each line what its path and its water
 * may be off by, and the terms themselves. Covariance by the sandwich over blocks of the bed (White 1980; Liang & Zeger
 * 1986): soundings of one ping err together, and planes do not describe a bed to the last.
 */
export function solveStep(m: Moving, cells: readonly SharedCell[], lines: number, freedom: LineFreedom): PatchStep {
  const unknowns = new Unknowns(m, lines, freedom);
  const { size, prior, bound } = unknowns;
  const normal = new Float64Array(size * size);
  const right = new Float64Array(size);
  const sums = new CellSums(unknowns);
  for (const c of cells) sums.add(m, c, normal, right);
  const held = new Uint8Array(TERMS);
  let inverse: Float64Array | undefined;
  let solved = new Float64Array(size);
  // terms that nothing tells are held, the worst first
  for (;;) {
    const n = normal.slice();
    solved = right.map((v) => -v);
    for (let i = 0; i < size; i++) {
      n[i * size + i] += prior[i];
      if (bound[i] === 0) continue;
      n[i * size + i + AXES] += bound[i];
      n[(i + AXES) * size + i] += bound[i];
    }
    for (let t = 0; t < TERMS; t++) {
      if (!held[t]) {
        n[t * size + t] += 1e-9;
        continue;
      }
      for (let j = 0; j < size; j++) n[t * size + j] = n[j * size + t] = 0;
      n[t * size + t] = 1;
      solved[t] = 0;
    }
    inverse = solveNormal(n, solved, size);
    if (!inverse) throw new Error('normal equations of the mounting are singular');
    const worst = worstOf(inverse, size, held);
    if (worst < 0) break;
    held[worst] = 1;
  }
  const covariance = sandwich(m, cells, unknowns, solved, inverse, held);
  return { by: solved.slice(0, TERMS), covariance, held };
}

/** The term that is known worst against what is bearable; −1 when all are known well enough. */
function worstOf(inverse: Float64Array, size: number, held: Uint8Array): number {
  let [worst, most] = [-1, 1];
  for (let t = 0; t < TERMS; t++) {
    const ratio = Math.sqrt(inverse[t * size + t]) / WORST_SD[t];
    if (held[t] || ratio <= most) continue;
    worst = t;
    most = ratio;
  }
  return worst;
}

/** Adds cells to the normal equations, their planes eliminated. */
class CellSums {
  /** Number of each unknown within the cell at hand, from 1; 0: it is not in it. */
  private readonly local: Int32Array;
  private place: number[] = [];

  constructor(private readonly unknowns: Unknowns) {
    this.local = new Int32Array(unknowns.size);
  }

  add(m: Moving, c: SharedCell, normal: Float64Array, right: Float64Array): void {
    const { unknowns, local } = this;
    const { index, value, size } = unknowns;
    this.place = [];
    for (const i of c.members) {
      unknowns.row(m, c, i);
      for (let e = 0; e < ENTRIES; e++) {
        if (local[index[e]]) continue;
        local[index[e]] = this.place.push(index[e]);
      }
    }
    const { place } = this;
    const width = place.length;
    const plane = new Float64Array(9);
    const cross = new Float64Array(3 * width);
    const planeRight = new Float64Array(3);
    const own = new Float64Array(width * width);
    const ownRight = new Float64Array(width);
    const s2 = 1 / c.scatterM ** 2;
    for (let k = 0; k < c.members.length; k++) {
      const w = c.weights[k] * s2;
      if (w === 0) continue;
      const i = c.members[k];
      unknowns.row(m, c, i);
      const a = [1, m.x[i] - c.x, m.y[i] - c.y];
      const z = m.h[i] - c.slopeX * a[1] - c.slopeY * a[2];
      for (let p = 0; p < 3; p++) {
        planeRight[p] += w * a[p] * z;
        for (let q = 0; q < 3; q++) plane[3 * p + q] += w * a[p] * a[q];
        for (let e = 0; e < ENTRIES; e++) cross[p * width + local[index[e]] - 1] += w * a[p] * value[e];
      }
      for (let e = 0; e < ENTRIES; e++) {
        const r = (local[index[e]] - 1) * width - 1;
        const we = w * value[e];
        ownRight[local[index[e]] - 1] += we * z;
        for (let f = 0; f < ENTRIES; f++) own[r + local[index[f]]] += we * value[f];
      }
    }
    for (const g of place) local[g] = 0;
    const inverse = solveNormal(plane, new Float64Array(3), 3);
    if (!inverse) return;
    const half = new Float64Array(3 * width);
    for (let p = 0; p < 3; p++)
      for (let q = 0; q < 3; q++)
        for (let t = 0; t < width; t++) half[p * width + t] += inverse[3 * p + q] * cross[q * width + t];
    for (let t = 0; t < width; t++) {
      let r = ownRight[t];
      for (let p = 0; p < 3; p++) r -= half[p * width + t] * planeRight[p];
      right[place[t]] += r;
      const row = place[t] * size;
      for (let u = 0; u < width; u++) {
        let v = own[t * width + u];
        for (let p = 0; p < 3; p++) v -= cross[p * width + t] * half[p * width + u];
        normal[row + place[u]] += v;
      }
    }
  }
}

/** Covariance of the terms from what the residuals of each block pull at them, and from the priors. */
function sandwich(
  m: Moving,
  cells: readonly SharedCell[],
  unknowns: Unknowns,
  solved: Float64Array,
  inverse: Float64Array,
  held: Uint8Array,
): Float64Array {
  const { size, prior, bound } = unknowns;
  const blocks = new Map<number, Float64Array>();
  for (const c of cells) {
    const key = Math.floor(c.x / BLOCK_M) * 1_000_003 + Math.floor(c.y / BLOCK_M);
    let pull = blocks.get(key);
    if (!pull) blocks.set(key, (pull = new Float64Array(TERMS)));
    addPull(m, c, unknowns, solved, inverse, pull);
  }
  const out = new Float64Array(TERMS * TERMS);
  const factor = blocks.size / Math.max(1, blocks.size - TERMS);
  const add = (t: number, u: number, v: number) => {
    if (!held[t] && !held[u]) out[t * TERMS + u] += v;
  };
  for (let t = 0; t < TERMS; t++)
    for (let u = 0; u < TERMS; u++) {
      for (const pull of blocks.values()) add(t, u, factor * pull[t] * pull[u]);
      for (let k = TERMS; k < size; k++) {
        const [a, b] = [inverse[t * size + k], inverse[u * size + k]];
        add(t, u, a * prior[k] * b);
        if (bound[k] !== 0) add(t, u, bound[k] * (a * inverse[u * size + k + AXES] + inverse[t * size + k + AXES] * b));
      }
    }
  return out;
}

/** Adds how far the residuals of a cell pull each term. */
function addPull(
  m: Moving,
  c: SharedCell,
  unknowns: Unknowns,
  solved: Float64Array,
  inverse: Float64Array,
  pull: Float64Array,
): void {
  const { index, value, size } = unknowns;
  const n = c.members.length;
  const residual = new Float64Array(n);
  const plane = new Float64Array(9);
  const planeRight = new Float64Array(3);
  for (let k = 0; k < n; k++) {
    const i = c.members[k];
    unknowns.row(m, c, i);
    const a = [1, m.x[i] - c.x, m.y[i] - c.y];
    let r = m.h[i] - c.slopeX * a[1] - c.slopeY * a[2];
    for (let e = 0; e < ENTRIES; e++) r += value[e] * solved[index[e]];
    residual[k] = r;
    for (let p = 0; p < 3; p++) {
      planeRight[p] += c.weights[k] * a[p] * r;
      for (let q = 0; q < 3; q++) plane[3 * p + q] += c.weights[k] * a[p] * a[q];
    }
  }
  if (!solveNormal(plane, planeRight, 3)) return;
  for (let k = 0; k < n; k++) {
    const w = c.weights[k] / c.scatterM ** 2;
    if (w === 0) continue;
    const i = c.members[k];
    unknowns.row(m, c, i);
    const r = residual[k] - planeRight[0] - planeRight[1] * (m.x[i] - c.x) - planeRight[2] * (m.y[i] - c.y);
    for (let e = 0; e < ENTRIES; e++) {
      const wr = w * r * value[e];
      for (let t = 0; t < TERMS; t++) pull[t] += wr * inverse[t * size + index[e]];
    }
  }
}
