import { SD_STEP_M, INSIDE, OUTSIDE, type CloudEdit, type Selector } from '@longheron/core/cloud';
import { type CloudScene } from './CloudScene';
import { type CloudNode } from './cloudTree';
import { type NodePoints } from './nodeStore';

/** Bits of the fourth code of a point. */
export const REJECTED_BIT = 1;
export const SELECTED_BIT = 2;

/** Marks the points of a node that a selector holds. @returns how many, added to the counts by class. */
export function markSelected(
  selector: Selector | null,
  node: CloudNode,
  data: NodePoints,
  timeOrigin: number,
  timeStepS: number,
  byClass?: Float64Array,
): number {
  const { codes, position } = data;
  const n = data.intensity.length;
  const [cx, cy, cz] = node.corner;
  const state = selector?.enter(cx, cy, cz, node.edgeM, node) ?? OUTSIDE;
  let count = 0;
  for (let i = 0; i < n; i++) {
    const k = 4 * i;
    const flags = codes[k + 3] & ~SELECTED_BIT;
    const inside =
      state !== OUTSIDE &&
      selector!.passes(codes[k], (flags & REJECTED_BIT) === REJECTED_BIT) &&
      (state === INSIDE ||
        selector!.has(position[3 * i] + cx, position[3 * i + 1] + cy, position[3 * i + 2] + cz, node.first + i)) &&
      (!selector!.needsAttributes ||
        selector!.passesAttributes(
          timeOrigin + data.timeSteps[i] * timeStepS,
          ...([data.strip[i], data.intensity[i], codes[k + 1], codes[k + 2]] as const),
          data.sdH[i] * SD_STEP_M,
        ));
    codes[k + 3] = inside ? flags | SELECTED_BIT : flags;
    if (!inside) continue;
    count++;
    if (byClass) byClass[codes[k]]++;
  }
  return count;
}

/** Points are marked for this long before the page may do something else. */
const SLICE_MS = 14;

/** Marks what is selected and what was done by hand on the nodes of a scene. */
export class PointMarker {
  private selector: Selector | null = null;
  private turn = 0;
  /** Hears how many of the drawn points a selection holds, when these are marked. */
  onSelected?: (count: number, byClass: Record<string, number>) => void;

  constructor(private readonly scene: CloudScene) {}

  private mark(node: CloudNode, data: NodePoints, byClass?: Float64Array): number {
    const { timeOrigin, timeStepS } = this.scene.index;
    return markSelected(this.selector, node, data, timeOrigin, timeStepS, byClass);
  }

  /** Marks what a selection holds, what is on the screen first, in slices that leave the page free. */
  async select(selector: Selector | null): Promise<void> {
    const { scene } = this;
    this.selector = selector;
    const turn = ++this.turn;
    scene.store.onArrival = (node, data) => selector && this.mark(node, data);
    const visible = [...scene.visible()];
    const seen = new Set(visible.map((v) => v.node.id));
    const byClass = new Float64Array(256);
    let count = 0;
    const begun = { at: performance.now() };
    for (const { node, data } of visible) {
      count += this.mark(node, data, byClass);
      scene.refreshCodes(node.id);
      if (await this.gaveWay(begun, turn)) return;
    }
    this.onSelected?.(count, Object.fromEntries([...byClass].flatMap((n, c) => (n ? [[String(c), n]] : []))));
    scene.restart();
    for (const { node, data } of [...scene.store.all()]) {
      if (seen.has(node.id)) continue;
      this.mark(node, data);
      scene.refreshCodes(node.id);
      if (await this.gaveWay(begun, turn)) return;
    }
  }

  /** Lets the page breathe when it is time. @returns whether another selection has taken over. */
  private async gaveWay(begun: { at: number }, turn: number): Promise<boolean> {
    if (performance.now() - begun.at < SLICE_MS) return false;
    await new Promise((r) => setTimeout(r));
    begun.at = performance.now();
    return turn !== this.turn;
  }

  /** What was done to the cloud by hand; the picture follows. */
  setEdits(edits: readonly CloudEdit[]): void {
    const { scene } = this;
    scene.store.setEdits(edits);
    for (const { node, data } of scene.store.all()) {
      if (this.selector) this.mark(node, data);
      scene.refreshCodes(node.id);
    }
    scene.restart();
  }
}
