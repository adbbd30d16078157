import { type CloudIndex } from '@longheron/contract/api';

/** Node of a stored cloud. Corners are metres about the cloud's origin. */
export interface CloudNode {
  id: number;
  level: number;
  /** Low corner and edge of the node's cube. */
  corner: [number, number, number];
  edgeM: number;
  spacingM: number;
  /** The node's points lie at first … first + count of the packs. */
  first: number;
  count: number;
  children: number[];
}

/** The node table of a cloud as a tree; parents come before their children. */
export function readTree(index: CloudIndex): CloudNode[] {
  const out: CloudNode[] = [];
  const byPlace = new Map<string, number>();
  for (let i = 0; i < index.nodes.length; i += 6) {
    const [level, x, y, z, first, count] = index.nodes.slice(i, i + 6);
    const edgeM = index.rootM / 2 ** level;
    const node: CloudNode = {
      id: out.length,
      level,
      corner: [x * edgeM, y * edgeM, z * edgeM],
      edgeM,
      spacingM: index.spacingM / 2 ** level,
      first,
      count,
      children: [],
    };
    byPlace.set(`${level} ${x} ${y} ${z}`, node.id);
    const parent = level > 0 ? byPlace.get(`${level - 1} ${x >> 1} ${y >> 1} ${z >> 1}`) : undefined;
    if (parent !== undefined) out[parent].children.push(node.id);
    out.push(node);
  }
  return out;
}

export interface Chosen {
  /** Node ids, what the eye misses most first. */
  nodes: number[];
  points: number;
  /** The level of detail asked for was reached before the budget ran out. */
  complete: boolean;
}

/**
 * Chooses the nodes a view needs, coarse before fine and near before far, until the budget is spent.
 * @param pixelsPerMetre how large a metre at the node appears, pixels; 0 when the node is not in the picture.
 * @param finestPx spacing on screen below which finer nodes add nothing, pixels.
 */
export function chooseNodes(
  tree: CloudNode[],
  pixelsPerMetre: (node: CloudNode) => number,
  budget: number,
  finestPx: number,
): Chosen {
  const heap: Array<{ id: number; px: number }> = [];
  const push = (id: number) => {
    const node = tree[id];
    const px = pixelsPerMetre(node) * node.spacingM;
    if (px <= 0) return;
    let i = heap.length;
    heap.push({ id, px });
    while (i > 0) {
      const up = (i - 1) >> 1;
      if (heap[up].px >= heap[i].px) break;
      [heap[up], heap[i]] = [heap[i], heap[up]];
      i = up;
    }
  };
  const pop = () => {
    const top = heap[0];
    const last = heap.pop()!;
    if (heap.length) {
      heap[0] = last;
      for (let i = 0; ;) {
        const a = 2 * i + 1;
        const b = a + 1;
        const most = b < heap.length && heap[b].px > heap[a].px ? b : a;
        if (a >= heap.length || heap[most].px <= heap[i].px) break;
        [heap[most], heap[i]] = [heap[i], heap[most]];
        i = most;
      }
    }
    return top;
  };
  for (const node of tree) {
    if (node.level > 0) break;
    push(node.id);
  }
  const nodes: number[] = [];
  let points = 0;
  while (heap.length) {
    const { id, px } = pop();
    const node = tree[id];
    if (points > 0 && points + node.count > budget) return { nodes, points, complete: false };
    nodes.push(id);
    points += node.count;
    if (px > finestPx) for (const child of node.children) push(child);
  }
  return { nodes, points, complete: true };
}
