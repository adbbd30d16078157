import { open, type FileHandle } from 'node:fs/promises';
import {
  applyEdits,
  ATTRIBUTE_BYTES,
  attributesOf,
  CLASS_BYTES,
  POSITION_BYTES,
  type Attributes,
  INSIDE,
  RunBuilder,
  Selector,
  type SelectionSources,
  type Runs,
  type Selection,
} from '@longheron/core/cloud';
import { Problem, tick, type Watch } from '@longheron/core/shared';
import { positionsIn, type EditableCloud } from './cloud';

/** How many points a selection holds, by class; rejected ones apart. */
export interface SelectionCount {
  count: number;
  rejected: number;
  byClass: Record<string, number>;
}

/** Points read at once. */
const MAX_AT_ONCE = 1 << 20;

/** Points of neighbouring nodes, which are read at once. */
interface Block {
  first: number;
  count: number;
  /** First point, count, low corner and edge of each, metres about the origin. */
  nodes: Array<[number, number, number, number, number, number]>;
}

/** Nodes that may hold points of the selection, in the order of their points; neighbours are read together. */
function blocksOf(cloud: EditableCloud, selector: Selector): Block[] {
  const wanted: Block['nodes'] = [];
  for (let i = 0; i < cloud.nodes.length; i += 6) {
    const [level, x, y, z, first, count] = cloud.nodes.slice(i, i + 6);
    const edgeM = cloud.rootM / 2 ** level;
    if (count > 0 && selector.touches(x * edgeM, y * edgeM, z * edgeM, edgeM, { first, count }))
      wanted.push([first, count, x * edgeM, y * edgeM, z * edgeM, edgeM]);
  }
  wanted.sort((a, b) => a[0] - b[0]);
  const out: Block[] = [];
  for (const node of wanted) {
    const [first, count] = node;
    const last = out[out.length - 1];
    if (last && last.first + last.count === first && last.count + count <= MAX_AT_ONCE) {
      last.count += count;
      last.nodes.push(node);
    } else out.push({ first, count, nodes: [node] });
  }
  return out;
}

class Column {
  private buffer = Buffer.alloc(0);
  constructor(
    private readonly file: FileHandle,
    private readonly bytes: number,
    private readonly name: string,
  ) {}

  async read({ first, count }: Block): Promise<Buffer> {
    const length = count * this.bytes;
    if (this.buffer.length < length) this.buffer = Buffer.alloc(length);
    const { bytesRead } = await this.file.read(this.buffer, 0, length, first * this.bytes);
    if (bytesRead !== length)
      throw new Problem(`The stored cloud lacks ${this.name} from point ${first} on.`, {
        code: 'cloud-store',
        place: `point ${first}`,
        remedy: 'Take the cloud in again, or run the job that made it.',
      });
    return this.buffer;
  }
}

/**
 * The rows of a stored cloud that a selection holds, with their classes counted as they are now. Only nodes that the
 * shapes touch are read.
 */
export async function selectRows(
  cloud: EditableCloud,
  selection: Selection,
  watch?: Watch,
  sources?: SelectionSources,
): Promise<{ runs: Runs; counts: SelectionCount }> {
  const selector = new Selector(selection, cloud.origin, sources);
  const blocks = blocksOf(cloud, selector);
  const total = blocks.reduce((n, b) => n + b.count, 0);
  const rows = new RunBuilder();
  const byClass = new Float64Array(256);
  let rejected = 0;
  let done = 0;
  const files = await openAll(cloud);
  try {
    const position = new Column(files[0], POSITION_BYTES, 'positions');
    const attributes = new Column(files[1], ATTRIBUTE_BYTES, 'attributes');
    const stored = new Column(files[2], CLASS_BYTES, 'classes');
    const flags = new Uint8Array(Math.max(0, ...blocks.map((b) => b.count)));
    for (const block of blocks) {
      tick(watch, done / Math.max(1, total), 'Selecting');
      const n = block.count;
      const xyz = positionsIn(await position.read(block), n);
      const classes = (await stored.read(block)).subarray(0, n);
      const extra = selector.needsAttributes ? attributesOf(await attributes.read(block), n) : undefined;
      flags.fill(0, 0, n);
      applyEdits(cloud.edits, block.first, classes, flags.subarray(0, n));
      for (const [first, count, x, y, z, edgeM] of block.nodes) {
        const whole = selector.enter(x, y, z, edgeM, { first, count }) === INSIDE;
        const from = first - block.first;
        for (let i = from; i < from + count; i++) {
          const cls = classes[i];
          const out = flags[i] & 1;
          if (!selector.passes(cls, out === 1)) continue;
          const k = 3 * i;
          if (
            !whole &&
            !selector.has(xyz[k] * cloud.scale, xyz[k + 1] * cloud.scale, xyz[k + 2] * cloud.scale, block.first + i)
          )
            continue;
          if (extra && !passes(selector, cloud, extra, i)) continue;
          rows.add(block.first + i);
          byClass[cls]++;
          rejected += out;
        }
      }
      done += n;
    }
  } finally {
    await Promise.all(files.map((f) => f.close()));
  }
  const runs = rows.finish();
  const counts = Object.fromEntries([...byClass].flatMap((n, c) => (n ? [[String(c), n]] : [])));
  return { runs, counts: { count: runs.count, rejected, byClass: counts } };
}

const openAll = (cloud: EditableCloud): Promise<FileHandle[]> =>
  Promise.all([cloud.paths.position, cloud.paths.attributes, cloud.paths.classes].map((p) => open(p, 'r')));

function passes(selector: Selector, cloud: EditableCloud, a: Attributes, i: number): boolean {
  return selector.passesAttributes(
    cloud.timeOrigin + a.time(i) * cloud.timeStepS,
    a.strip(i),
    a.intensity(i),
    a.echo(i),
    a.echoes(i),
    a.sdM(i),
  );
}
