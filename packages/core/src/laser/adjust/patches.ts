import { smallestAxis } from '../../numeric/smallestAxis';
import { quantile } from '../../numeric/statistics';
import { type CellSums } from './cellSums';

export interface PatchRules {
  /** Points that a piece needs in a cell. */
  minPoints: number;
  /** Pieces that scatter by more than this many times the smoother quarter of all are no planes. */
  roughFactor: number;
  /** Pieces that a cell needs. */
  minPieces: number;
}

export const PATCH_RULES: PatchRules = { minPoints: 7, roughFactor: 1.8, minPieces: 2 };

/**
 * Planar patches of several pieces in common cells. Entries of cell c stand at start[c] … start[c + 1]; each is the mean of
 * a piece's points there, with the variance of that mean along the normal that the pieces share.
 */
export interface Patches {
  cells: number;
  entries: number;
  start: Int32Array;
  column: Int32Array;
  row: Int32Array;
  /** East, north, up of the unit normal, upwards. */
  normal: Float64Array;
  piece: Int32Array;
  eastingM: Float64Array;
  northingM: Float64Array;
  heightM: Float64Array;
  timeS: Float64Array;
  varianceM2: Float64Array;
  /** RMS of the points about their plane, metres. */
  scatterM: Float32Array;
  /** Entries with enough points that are no planes, and the limit that said so, metres. */
  rough: number;
  roughLimitM: number;
}

/** Least spread of a piece's points across its cell, in edges: below, they lie along a line. */
const MIN_SPREAD = 0.14;
/** A plane steeper than this is no surface over plan. */
const MIN_UP = Math.cos((72 * Math.PI) / 180);
/** Scatters looked at for the limit, at most. */
const SAMPLE = 200_000;

/** Finds the planes that pieces share, cell by cell. @param limitM scatter allowed; found from all when not given. */
export function patchesOf(sums: CellSums, rules: PatchRules = PATCH_RULES, limitM?: number): Patches {
  const read = new Float64Array(11);
  const axis = new Float64Array(6);
  const scatter = scatterOf(sums, rules.minPoints);
  const limit = limitM ?? roughLimit(scatter, rules.roughFactor);
  let rough = 0;
  for (let e = 0; e < sums.entries; e++) if (scatter[e] > limit) rough++;
  const out = empty(sums.cells, sums.entries, rough, limit);
  const members: number[] = [];
  for (let cell = 0; cell < sums.cells; cell++) {
    members.length = 0;
    for (let e = sums.firstEntry[cell]; e >= 0; e = sums.next[e]) if (scatter[e] <= limit) members.push(e);
    if (members.length < rules.minPieces) continue;
    const s = new Float64Array(6);
    let points = 0;
    for (const e of members) {
      sums.read(e, read);
      points += read[0];
      for (let k = 0; k < 6; k++) s[k] += read[5 + k];
    }
    smallestAxis(s[0], s[1], s[2], s[3], s[4], s[5], axis);
    const sign = axis[5] < 0 ? -1 : 1;
    const [x, y, z] = [sign * axis[3], sign * axis[4], sign * axis[5]];
    if (z < MIN_UP) continue;
    const from = out.entries;
    const middleE = sums.originE + (sums.column[cell] + 0.5) * sums.cellM;
    const middleN = sums.originN + (sums.row[cell] + 0.5) * sums.cellM;
    let [meanX, meanY, meanZ] = [0, 0, 0];
    for (const e of members) {
      sums.read(e, read);
      const across =
        x * x * read[5] +
        y * y * read[8] +
        z * z * read[10] +
        2 * (x * y * read[6] + x * z * read[7] + y * z * read[9]);
      const variance = Math.max(across, 0) / (read[0] - 2);
      // a piece that is tilted against the others shows something else
      if (Math.sqrt(variance) > 1.25 * limit) continue;
      const at = out.entries++;
      out.piece[at] = sums.piece[e];
      out.eastingM[at] = middleE + read[1];
      out.northingM[at] = middleN + read[2];
      out.heightM[at] = sums.baseM[cell] + read[3];
      out.timeS[at] = read[4];
      out.scatterM[at] = Math.sqrt(variance);
      out.varianceM2[at] = variance / read[0];
      meanX += read[1];
      meanY += read[2];
      meanZ += read[3];
    }
    const count = out.entries - from;
    if (count < rules.minPieces) {
      out.entries = from;
      continue;
    }
    // the normal turns a little with its points: what that does to means that lie apart
    const turn = axis[0] / (points - 3) / Math.max(axis[1], 1e-9);
    for (let at = from; at < out.entries; at++) {
      const dx = out.eastingM[at] - middleE - meanX / count;
      const dy = out.northingM[at] - middleN - meanY / count;
      const dz = out.heightM[at] - sums.baseM[cell] - meanZ / count;
      const along = x * dx + y * dy + z * dz;
      out.varianceM2[at] += Math.max(0, turn) * Math.max(0, dx * dx + dy * dy + dz * dz - along * along);
    }
    const c = out.cells++;
    out.start[c + 1] = out.entries;
    out.column[c] = sums.column[cell];
    out.row[c] = sums.row[cell];
    out.normal.set([x, y, z], 3 * c);
  }
  return trimmed(out);
}

/** Scatter of each entry about its own plane, metres; NaN for too few points or points along a line. */
function scatterOf(sums: CellSums, minPoints: number): Float32Array {
  const read = new Float64Array(11);
  const axis = new Float64Array(6);
  const out = new Float32Array(sums.entries);
  const least = (MIN_SPREAD * sums.cellM) ** 2;
  for (let e = 0; e < sums.entries; e++) {
    sums.read(e, read);
    out[e] = Number.NaN;
    if (read[0] < minPoints) continue;
    smallestAxis(read[5], read[6], read[7], read[8], read[9], read[10], axis);
    if (axis[1] / read[0] >= least) out[e] = Math.sqrt(Math.max(axis[0], 0) / (read[0] - 3));
  }
  return out;
}

function roughLimit(scatter: Float32Array, factor: number): number {
  const step = Math.max(1, Math.floor(scatter.length / SAMPLE));
  const sample: number[] = [];
  for (let e = 0; e < scatter.length; e += step) if (scatter[e] >= 0) sample.push(scatter[e]);
  return sample.length ? factor * Math.max(quantile(sample, 0.25), 1e-4) : Number.POSITIVE_INFINITY;
}

function empty(cells: number, entries: number, rough: number, roughLimitM: number): Patches {
  return {
    cells: 0,
    entries: 0,
    start: new Int32Array(cells + 1),
    column: new Int32Array(cells),
    row: new Int32Array(cells),
    normal: new Float64Array(3 * cells),
    piece: new Int32Array(entries),
    eastingM: new Float64Array(entries),
    northingM: new Float64Array(entries),
    heightM: new Float64Array(entries),
    timeS: new Float64Array(entries),
    varianceM2: new Float64Array(entries),
    scatterM: new Float32Array(entries),
    rough,
    roughLimitM,
  };
}

/** Copies of the filled parts, so that the rest of the memory is given back. */
function trimmed(p: Patches): Patches {
  return {
    ...p,
    start: p.start.slice(0, p.cells + 1),
    column: p.column.slice(0, p.cells),
    row: p.row.slice(0, p.cells),
    normal: p.normal.slice(0, 3 * p.cells),
    piece: p.piece.slice(0, p.entries),
    eastingM: p.eastingM.slice(0, p.entries),
    northingM: p.northingM.slice(0, p.entries),
    heightM: p.heightM.slice(0, p.entries),
    timeS: p.timeS.slice(0, p.entries),
    varianceM2: p.varianceM2.slice(0, p.entries),
    scatterM: p.scatterM.slice(0, p.entries),
  };
}
