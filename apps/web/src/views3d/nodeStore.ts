import { type CloudIndex } from '@longheron/contract/api';
import {
  applyEdits,
  ATTRIBUTE_BYTES,
  Attributes,
  CLASS_BYTES,
  COLOUR_BYTES,
  POSITION_BYTES,
  positionsOf,
  type CloudEdit,
} from '@longheron/core/cloud';
import { objectRange } from '../api/client';
import { type CloudNode } from './cloudTree';
import { SELECTED_BIT } from './selecting';

/** Columns of one node, ready for the screen; positions are metres about the node's corner. */
export interface NodePoints {
  position: Float32Array;
  intensity: Uint16Array;
  strip: Uint16Array;
  /** Seconds since the cloud's time origin, for colour and filter. */
  time: Float32Array;
  /** The same in whole steps, exact. */
  timeSteps: Uint32Array;
  /** Standard deviation of height, tenths of a millimetre. */
  sdH: Uint16Array;
  /** Class as it is stored, before what was done by hand. */
  stored: Uint8Array;
  /** Class, echo number, echo count, bits of rejection and selection: four bytes a point. */
  codes: Uint8Array;
  /** Red, green, blue of clouds that have them; empty otherwise. */
  colour: Uint8Array;
}

/** Turns the stored bytes of a node into columns. */
export function decodeNode(
  node: CloudNode,
  scale: number,
  timeStepS: number,
  position: ArrayBuffer,
  attributes: ArrayBuffer,
  classes: ArrayBuffer,
  colour?: ArrayBuffer,
): NodePoints {
  const n = node.count;
  const raw = positionsOf(position, 0, n);
  const out: NodePoints = {
    position: new Float32Array(3 * n),
    intensity: new Uint16Array(n),
    strip: new Uint16Array(n),
    time: new Float32Array(n),
    timeSteps: new Uint32Array(n),
    sdH: new Uint16Array(n),
    stored: new Uint8Array(classes),
    codes: new Uint8Array(4 * n),
    colour: colour ? new Uint8Array(colour) : new Uint8Array(0),
  };
  const [cx, cy, cz] = node.corner;
  for (let i = 0; i < 3 * n; i += 3) {
    out.position[i] = raw[i] * scale - cx;
    out.position[i + 1] = raw[i + 1] * scale - cy;
    out.position[i + 2] = raw[i + 2] * scale - cz;
  }
  const a = new Attributes(attributes, 0, n);
  const cls = new Uint8Array(classes);
  for (let i = 0; i < n; i++) {
    out.intensity[i] = a.intensity(i);
    out.strip[i] = a.strip(i);
    out.timeSteps[i] = a.time(i);
    out.time[i] = a.time(i) * timeStepS;
    out.sdH[i] = a.sdSteps(i);
    out.codes[4 * i] = cls[i];
    out.codes[4 * i + 1] = a.echo(i);
    out.codes[4 * i + 2] = a.echoes(i);
  }
  return out;
}

/** Classes and rejection of a node's points after acts on them. */
function recode(node: CloudNode, data: NodePoints, edits: readonly CloudEdit[]): void {
  const classes = data.stored.slice();
  const flags = new Uint8Array(classes.length);
  applyEdits(edits, node.first, classes, flags);
  for (let i = 0; i < classes.length; i++) {
    data.codes[4 * i] = classes[i];
    data.codes[4 * i + 3] = (data.codes[4 * i + 3] & SELECTED_BIT) | flags[i];
  }
}

/** Fetches nodes by range, a few at a time, and keeps those used last. */
export class NodeStore {
  private readonly loaded = new Map<number, NodePoints>();
  private readonly pending = new Map<number, AbortController>();
  private points = 0;
  failure = '';
  private edits: readonly CloudEdit[] = [];
  /** Hears of each node that arrives, before it is drawn. */
  onArrival?: (node: CloudNode, data: NodePoints) => void;

  constructor(
    readonly index: CloudIndex,
    readonly tree: CloudNode[],
    private readonly arrived: () => void,
    private readonly maxPoints = 6_000_000,
    private readonly atOnce = 4,
  ) {}

  get(id: number): NodePoints | undefined {
    const found = this.loaded.get(id);
    if (found) {
      this.loaded.delete(id);
      this.loaded.set(id, found);
    }
    return found;
  }

  /** Nodes at hand. */
  *all(): Generator<{ node: CloudNode; data: NodePoints }> {
    for (const [id, data] of this.loaded) yield { node: this.tree[id], data };
  }

  /** What was done to the cloud by hand; nodes at hand follow at once. */
  setEdits(edits: readonly CloudEdit[]): void {
    this.edits = edits;
    for (const { node, data } of this.all()) recode(node, data, edits);
  }

  get loading(): boolean {
    return this.pending.size > 0;
  }

  /** Fetches what is missing of `ids`, in their order; requests for other nodes are dropped. */
  want(ids: number[], keep: (id: number) => boolean): number[] {
    const wanted = new Set(ids);
    for (const [id, abort] of this.pending)
      if (!wanted.has(id)) {
        abort.abort();
        this.pending.delete(id);
      }
    for (const id of ids) {
      if (this.pending.size >= this.atOnce) break;
      if (!this.loaded.has(id) && !this.pending.has(id)) void this.fetch(id);
    }
    const dropped: number[] = [];
    for (const [id, p] of this.loaded) {
      if (this.points <= this.maxPoints) break;
      if (wanted.has(id) || keep(id)) continue;
      this.loaded.delete(id);
      this.points -= p.intensity.length;
      dropped.push(id);
    }
    return dropped;
  }

  private async fetch(id: number): Promise<void> {
    const node = this.tree[id];
    const abort = new AbortController();
    this.pending.set(id, abort);
    const { objects, scale, timeStepS } = this.index;
    const part = (sha: string, bytes: number) =>
      objectRange(sha, node.first * bytes, (node.first + node.count) * bytes, abort.signal);
    try {
      const [position, attributes, classes, colour] = await Promise.all([
        part(objects.position, POSITION_BYTES),
        part(objects.attributes, ATTRIBUTE_BYTES),
        part(objects.classes, CLASS_BYTES),
        objects.colour ? part(objects.colour, COLOUR_BYTES) : undefined,
      ]);
      if (abort.signal.aborted) return;
      const data = decodeNode(node, scale, timeStepS, position, attributes, classes, colour);
      if (this.edits.length) recode(node, data, this.edits);
      this.onArrival?.(node, data);
      this.loaded.set(id, data);
      this.points += node.count;
      this.failure = '';
    } catch (error) {
      if (abort.signal.aborted) return;
      this.failure = (error as Error).message;
    } finally {
      if (this.pending.get(id) === abort) this.pending.delete(id);
      // after a failure it is tried again, but not at once
      if (!abort.signal.aborted) setTimeout(this.arrived, this.failure ? 1500 : 0);
    }
  }

  stop(): void {
    for (const abort of this.pending.values()) abort.abort();
    this.pending.clear();
  }
}
