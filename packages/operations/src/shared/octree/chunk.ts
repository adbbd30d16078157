import { RECORD_WORDS } from '@longheron/core/cloud';
import { AXIS_BITS, encode, NODE_CELL_BITS, sharedBits, sortByCode, type Codes } from './morton';

export interface OctreeNode {
  level: number;
  x: number;
  y: number;
  z: number;
  first: number;
  count: number;
}

const LAST_CELL = 2 ** AXIS_BITS - 1;

/** Finest cells per step of the stored positions. */
export const cellsPerStep = (scaleM: number, rootM: number) => (scaleM / rootM) * 2 ** AXIS_BITS;

/** Finest cell of a stored position along one axis. Every part of the build asks here, so that borders agree. */
export function cellOf(steps: number, per: number): number {
  const c = (steps * per) | 0;
  return c < 0 ? 0 : c > LAST_CELL ? LAST_CELL : c;
}

/** Where the walk through the codes stands; carried from chunk to chunk. */
export interface Walk {
  high: number;
  low: number;
  started: boolean;
}

/** Nodes of a chunk and, for each record, which node it goes to (an index into `nodes`). */
export interface SortedChunk {
  nodes: OctreeNode[];
  /** Records in the order of their nodes: nodes[0]'s first, then nodes[1]'s, … */
  order: Uint32Array;
}

/** Subtrees with no more points than this become one node. */
export const SMALL_SUBTREE = 6000;

/**
 * Deals the records of one chunk (a cube of the tree and all below it) out to nodes. Records are walked in Morton
 * order; each goes to the coarsest level whose cell it is the first to enter, so that all levels down to any one
 * together hold exactly one point in each cell of that level that has points.
 * @param records positions in steps of `scaleM` about the root's low corner.
 * @param deepest finest level.
 */
export function sortChunk(
  records: Int32Array,
  scaleM: number,
  rootM: number,
  deepest: number,
  chunkLevel: number,
  walk: Walk,
): SortedChunk {
  const count = records.length / RECORD_WORDS;
  const codes: Codes = { high: new Uint32Array(count), low: new Uint32Array(count) };
  const per = cellsPerStep(scaleM, rootM);
  for (let i = 0, o = 0; i < count; i++, o += RECORD_WORDS)
    encode(codes, i, cellOf(records[o], per), cellOf(records[o + 1], per), cellOf(records[o + 2], per));
  const rows = sortByCode(codes, count, Math.min(AXIS_BITS, deepest + NODE_CELL_BITS));
  const nodes: OctreeNode[] = [];
  const parent: number[] = [];
  const nodeOf = new Uint32Array(count);
  const open = new Int32Array(deepest + 1).fill(-1);
  for (let k = 0; k < count; k++) {
    const i = rows[k];
    const shared = walk.started ? sharedBits(codes.high[i], codes.low[i], walk.high, walk.low) : 0;
    const level = walk.started ? Math.min(deepest, Math.max(0, shared - NODE_CELL_BITS + 1)) : 0;
    walk.high = codes.high[i];
    walk.low = codes.low[i];
    walk.started = true;
    // a cube of level l is left when fewer than l leading bits are shared
    for (let l = shared + 1; l <= deepest; l++) open[l] = -1;
    const from = Math.min(level, chunkLevel);
    for (let l = from; l <= level; l++) {
      if (open[l] >= 0) continue;
      const o = i * RECORD_WORDS;
      const cube = (v: number) => cellOf(v, per) >> (AXIS_BITS - l);
      parent.push(l > from ? open[l - 1] : -1);
      open[l] = nodes.length;
      nodes.push({
        level: l,
        x: cube(records[o]),
        y: cube(records[o + 1]),
        z: cube(records[o + 2]),
        first: 0,
        count: 0,
      });
    }
    nodeOf[k] = open[level];
  }
  return collapse(nodes, parent, nodeOf, rows, chunkLevel);
}

/** Joins small subtrees into their top node and groups the records by node. */
function collapse(
  nodes: OctreeNode[],
  parent: number[],
  nodeOf: Uint32Array,
  rows: Uint32Array,
  chunkLevel: number,
): SortedChunk {
  const total = new Uint32Array(nodes.length);
  for (let k = 0; k < nodeOf.length; k++) total[nodeOf[k]]++;
  for (let id = nodes.length - 1; id >= 0; id--) if (parent[id] >= 0) total[parent[id]] += total[id];
  const into = new Uint32Array(nodes.length);
  for (let id = 0; id < nodes.length; id++) {
    const p = parent[id];
    into[id] = p >= 0 && nodes[p].level >= chunkLevel && total[p] <= SMALL_SUBTREE ? into[p] : id;
  }
  for (let k = 0; k < nodeOf.length; k++) {
    nodeOf[k] = into[nodeOf[k]];
    nodes[nodeOf[k]].count++;
  }
  const start = new Uint32Array(nodes.length);
  let at = 0;
  for (let id = 0; id < nodes.length; id++) {
    start[id] = nodes[id].first = at;
    at += nodes[id].count;
  }
  const order = new Uint32Array(nodeOf.length);
  for (let k = 0; k < nodeOf.length; k++) order[start[nodeOf[k]]++] = rows[k];
  const keep = nodes.map((n, id) => n.count > 0 || into[id] === id);
  return { nodes: nodes.filter((_, id) => keep[id]), order };
}
