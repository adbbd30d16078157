import { tick, type Watch } from '../../shared/progress';
import { LAS_CLASS, type PointSet } from '../points';
import { type GroundGrid, heightAbove } from './aboveGround';
import { isolatedGroups } from './groups';
import { VoxelSet } from './voxelSet';

export interface MovingSettings {
  /** Edge of the cells in which passes are compared, metres. */
  cellM: number;
  /** Nothing lower or higher above ground is looked at, metres. */
  fromM: number;
  toM: number;
  /** Points of a thing at least. */
  fewest: number;
}

/** Ground points of another pass that show that nothing stood there. */
const GROUND_SEEN = 3;
/** Strips of a vehicle come in passes: this many at most are told apart. */
const MAX_STRIPS = 32;

/**
 * Things that stood there on one pass and not on another: points above the ground in cells where one strip alone has
 * any, while another saw the ground of the same cell and nothing above it. What shades the ground from the other pass
 * is not judged; single points are left to other finders.
 * @returns 1 for each point found, and how many cells only one pass could judge.
 */
export function movingPoints(
  set: PointSet,
  cls: Uint8Array,
  skip: Uint8Array,
  strip: Uint16Array,
  ground: GroundGrid,
  s: MovingSettings,
  watch?: Watch,
): { marks: Uint8Array; onePass: number } {
  const marks = new Uint8Array(set.count);
  const strips = [...new Set(strip)].filter((v) => v > 0).sort((a, b) => a - b);
  if (strips.length < 2) return { marks, onePass: 0 };
  const place = new Map(strips.slice(0, MAX_STRIPS).map((v, i) => [v, i]));
  let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < set.count; i++) {
    if (skip[i]) continue;
    minX = Math.min(minX, set.x[i]);
    maxX = Math.max(maxX, set.x[i]);
    minY = Math.min(minY, set.y[i]);
    maxY = Math.max(maxY, set.y[i]);
  }
  const columns = Math.floor((maxX - minX) / s.cellM) + 1;
  const cells = columns * (Math.floor((maxY - minY) / s.cellM) + 1);
  const n = place.size;
  const seen = new Uint8Array(cells * n);
  const standing = new Uint32Array(cells);
  const above = new Uint8Array(set.count);
  for (let i = 0; i < set.count; i++) {
    if ((i & 0xfffff) === 0) tick(watch, (0.5 * i) / set.count, 'Comparing passes');
    const p = place.get(strip[i]);
    if (skip[i] || p === undefined) continue;
    const c = Math.floor((set.y[i] - minY) / s.cellM) * columns + Math.floor((set.x[i] - minX) / s.cellM);
    if (cls[i] === LAS_CLASS.ground) {
      if (seen[c * n + p] < 255) seen[c * n + p]++;
      continue;
    }
    const h = heightAbove(ground, set.x[i], set.y[i], set.z[i]);
    if (!(h >= s.fromM && h <= s.toM)) continue;
    above[i] = 1;
    standing[c] |= 1 << p;
  }
  let onePass = 0;
  const verdict = new Uint8Array(cells);
  for (let c = 0; c < cells; c++) {
    const bits = standing[c];
    // something of exactly one pass
    if (bits === 0 || (bits & (bits - 1)) !== 0) continue;
    const own = 31 - Math.clz32(bits);
    let judged = false;
    for (let p = 0; p < n; p++) if (p !== own && seen[c * n + p] >= GROUND_SEEN) judged = true;
    if (judged) verdict[c] = 1;
    else onePass++;
  }
  const candidates = new Uint8Array(set.count).fill(1);
  for (let i = 0; i < set.count; i++) {
    if (!above[i]) continue;
    const c = Math.floor((set.y[i] - minY) / s.cellM) * columns + Math.floor((set.x[i] - minX) / s.cellM);
    if (verdict[c]) candidates[i] = 0;
  }
  keepThings(set, above, candidates, marks, s, watch);
  return { marks, onePass };
}

/** A thing moves as a whole: groups of points above ground most of which are found, and all of whose points then are. */
const MAX_OF_IT = 0.6;

function keepThings(
  set: PointSet,
  above: Uint8Array,
  candidates: Uint8Array,
  marks: Uint8Array,
  s: MovingSettings,
  watch?: Watch,
): void {
  tick(watch, 0.6, 'Joining things');
  // groups among what was found; small ones are edges of what stands still
  const small = isolatedGroups(set, candidates, s.cellM, s.fewest - 1);
  const found = new Uint8Array(set.count);
  for (let i = 0; i < set.count; i++) found[i] = candidates[i] === 0 && !small[i] ? 1 : 0;
  // the share of each cube's surroundings that is found decides: an edge of a hedge is mostly not
  const voxels = new VoxelSet(
    set,
    above.map((v) => (v ? 0 : 1)),
    s.cellM,
  );
  const total = new Uint32Array(voxels.count);
  const hits = new Uint32Array(voxels.count);
  for (let i = 0; i < set.count; i++) {
    const v = voxels.of[i];
    if (v < 0) continue;
    total[v]++;
    hits[v] += found[i];
  }
  const around = (v: number) => {
    let [t, h] = [0, 0];
    for (let dx = -1; dx <= 1; dx++)
      for (let dy = -1; dy <= 1; dy++)
        for (let dz = -1; dz <= 1; dz++) {
          const o = voxels.find(voxels.at[3 * v] + dx, voxels.at[3 * v + 1] + dy, voxels.at[3 * v + 2] + dz);
          if (o < 0) continue;
          t += total[o];
          h += hits[o];
        }
    return h / Math.max(1, t);
  };
  const kept = new Uint8Array(voxels.count);
  for (let v = 0; v < voxels.count; v++) kept[v] = hits[v] && around(v) >= MAX_OF_IT ? 1 : 0;
  for (let i = 0; i < set.count; i++) if (found[i] && kept[voxels.of[i]]) marks[i] = 1;
}
