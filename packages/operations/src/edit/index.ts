import { open, readFile, type FileHandle } from 'node:fs/promises';
import { deflateRawSync, inflateRawSync } from 'node:zlib';
import {
  applyEdits,
  decodeRuns,
  encodeRuns,
  findPoints,
  LAS_CLASS,
  INSIDE,
  RunBuilder,
  Selector,
  thinPoints,
  type CloudEdit,
  type FinderName,
  type PointSet,
  type EditAct,
  type RowsOf,
  type Runs,
  type Selection,
} from '@longheron/core/cloud';
import { Problem, tick, type Watch } from '@longheron/core/shared';
import { AS_IT_WAS, LasFile, rewriteClasses, writeSelected } from '@longheron/formats/las';

/** A cloud as it is stored (docs/formats/cloud-store.md), with what was done to it since. */
export interface EditableCloud {
  count: number;
  /** Easting, northing, height of its zero, metres; positions are whole numbers of `scale`. */
  origin: readonly number[];
  scale: number;
  rootM: number;
  /** Six numbers a node: level, x, y, z, first point, count. */
  nodes: readonly number[];
  timeOrigin: number;
  timeStepS: number;
  paths: { position: string; attributes: string; classes: string };
  edits: CloudEdit[];
}

/** How many points a selection holds, by class; rejected ones apart. */
export interface SelectionCount {
  count: number;
  rejected: number;
  byClass: Record<string, number>;
}

/** Points read at once. */
const MOST_AT_ONCE = 1 << 20;
const POSITION_BYTES = 12;
const ATTRIBUTE_BYTES = 12;

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
    if (last && last.first + last.count === first && last.count + count <= MOST_AT_ONCE) {
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
  rowsOf?: RowsOf,
): Promise<{ runs: Runs; counts: SelectionCount }> {
  const selector = new Selector(selection, cloud.origin, rowsOf);
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
    const stored = new Column(files[2], 1, 'classes');
    const flags = new Uint8Array(Math.max(0, ...blocks.map((b) => b.count)));
    for (const block of blocks) {
      tick(watch, done / Math.max(1, total), 'Selecting');
      const n = block.count;
      const xyz = ints(await position.read(block), 3 * n);
      const classes = (await stored.read(block)).subarray(0, n);
      const extra = selector.needsAttributes ? await attributes.read(block) : undefined;
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
          if (extra && !passes(selector, cloud, extra, ATTRIBUTE_BYTES * i)) continue;
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

/** Bytes as little-endian whole numbers; buffers of our own begin where four divides. */
const ints = (b: Buffer, n: number) => new Int32Array(b.buffer, b.byteOffset, n);

function passes(selector: Selector, cloud: EditableCloud, b: Buffer, at: number): boolean {
  const gpsS = cloud.timeOrigin + b.readUInt32LE(at + 4) * cloud.timeStepS;
  return selector.passesAttributes(gpsS, b.readUInt16LE(at + 2), b.readUInt16LE(at));
}

/** Classes and flags of all points in the order of the store, and where an act decided on the rejection. */
export async function columnsOf(
  cloud: Pick<EditableCloud, 'paths' | 'edits'>,
): Promise<{ classes: Uint8Array; flags: Uint8Array; decided: Uint8Array }> {
  const classes = new Uint8Array(await readFile(cloud.paths.classes));
  const flags = new Uint8Array(classes.length);
  const decided = new Uint8Array(classes.length);
  applyEdits(cloud.edits, 0, classes, flags, decided);
  return { classes, flags, decided };
}

/** Points that a finder finds in a stored cloud, all of it in memory. @param row of a picked point. */
export async function findRows(
  cloud: EditableCloud,
  name: FinderName,
  settings: Record<string, number>,
  row: number | undefined,
  watch?: Watch,
): Promise<{ runs: Runs; note: string }> {
  tick(watch, 0, 'Reading the cloud');
  const [position, attributes, { classes, flags }] = await Promise.all([
    readFile(cloud.paths.position),
    readFile(cloud.paths.attributes),
    columnsOf(cloud),
  ]);
  const n = classes.length;
  const xyz = ints(position, 3 * n);
  const column = (k: number) => {
    const out = new Float64Array(n);
    for (let i = 0; i < n; i++) out[i] = xyz[3 * i + k] * cloud.scale;
    return out;
  };
  const words = new Uint32Array(attributes.buffer, attributes.byteOffset, 3 * n);
  const time = new Uint32Array(n);
  const skip = new Uint8Array(n);
  for (let i = 0; i < n; i++) {
    time[i] = words[3 * i + 1];
    const cls = classes[i];
    skip[i] = flags[i] & 1 || cls === LAS_CLASS.lowNoise || cls === LAS_CLASS.highNoise ? 1 : 0;
  }
  const set: PointSet = { count: n, x: column(0), y: column(1), z: column(2), origin: [...cloud.origin] as never };
  const { marks, note } = findPoints({ set, cls: classes, skip, xyz, time }, name, settings, row, watch);
  const rows = new RunBuilder();
  for (let i = 0; i < n; i++) if (marks[i]) rows.add(i);
  return { runs: rows.finish(), note };
}

/** An act's rows as the bytes that are kept of it: runs (docs/formats/cloud-store.md), deflated. */
export const packRuns = (runs: Runs): Uint8Array => deflateRawSync(encodeRuns(runs));

/** @throws Problem when the bytes are damaged. */
export function unpackRuns(bytes: Uint8Array): Runs {
  let plain: Buffer;
  try {
    plain = inflateRawSync(bytes);
  } catch {
    throw new Problem('The record of an edit is damaged.', {
      code: 'edit-damaged',
      place: 'compressed runs',
      remedy: 'Undo to the revision before it; raw files are not concerned.',
    });
  }
  return decodeRuns(plain);
}

/** An act in words. */
export function actWords(act: EditAct, className: (c: number) => string): string {
  if (act.kind === 'class') return `set to ${className(act.to)}`;
  return act.kind === 'reject' ? 'rejected' : 'taken back';
}

/**
 * Writes a LAS file with what was done to its stored cloud since: other classes, points withheld or not; all else as
 * it was.
 * @param orderPath row in the file of each stored point.
 */
export async function writeEdited(
  lasPath: string,
  orderPath: string,
  cloud: Pick<EditableCloud, 'paths' | 'edits'>,
  outPath: string,
  watch?: Watch,
): Promise<void> {
  const { classes, flags, decided } = await columnsOf(cloud);
  const bytes = await readFile(orderPath);
  const order = new Uint32Array(bytes.buffer, bytes.byteOffset, bytes.byteLength / 4);
  if (order.length !== classes.length)
    throw new Problem('The stored cloud and its file have other numbers of points.', {
      code: 'cloud-store',
      remedy: 'Take the cloud in again, or run the job that made it.',
    });
  const classification = new Uint8Array(classes.length);
  const withheld = new Uint8Array(classes.length).fill(AS_IT_WAS);
  for (let k = 0; k < order.length; k++) {
    classification[order[k]] = classes[k];
    if (decided[k]) withheld[order[k]] = flags[k] & 1;
  }
  const file = await LasFile.openPath(lasPath);
  try {
    await rewriteClasses(file, outPath, classification, withheld, watch);
  } finally {
    await file.close();
  }
}

/** How a part of a cloud is thinned: one point to a cube of this edge. */
export interface Thinning {
  edgeM: number;
  keep: 'first' | 'precise';
}

/**
 * Writes the points of some rows of a stored cloud to a file of their own, every attribute kept.
 * @param lasPath file with the edits in it. @returns how many were written.
 */
export async function writePart(
  lasPath: string,
  orderPath: string,
  cloud: EditableCloud,
  runs: Runs,
  thinning: Thinning | undefined,
  outPath: string,
  watch?: Watch,
): Promise<number> {
  const bytes = await readFile(orderPath);
  const order = new Uint32Array(bytes.buffer, bytes.byteOffset, bytes.byteLength / 4);
  const chosen = new Uint8Array(order.length);
  for (let r = 0; r < runs.first.length; r++) chosen.fill(1, runs.first[r], runs.first[r] + runs.length[r]);
  const kept = thinning ? await thinned(cloud, chosen, thinning) : chosen;
  const keep = new Uint8Array(order.length);
  for (let k = 0; k < order.length; k++) if (kept[k]) keep[order[k]] = 1;
  const file = await LasFile.openPath(lasPath);
  try {
    return (await writeSelected(file, outPath, keep, watch)).written;
  } finally {
    await file.close();
  }
}

async function thinned(cloud: EditableCloud, chosen: Uint8Array, { edgeM, keep }: Thinning): Promise<Uint8Array> {
  const n = chosen.length;
  const [position, attributes] = await Promise.all([readFile(cloud.paths.position), readFile(cloud.paths.attributes)]);
  const xyz = ints(position, 3 * n);
  const words = new Uint16Array(attributes.buffer, attributes.byteOffset, 6 * n);
  const column = (k: number) => {
    const out = new Float64Array(n);
    for (let i = 0; i < n; i++) out[i] = xyz[3 * i + k] * cloud.scale;
    return out;
  };
  const set: PointSet = { count: n, x: column(0), y: column(1), z: column(2), origin: [...cloud.origin] as never };
  const sd = Uint16Array.from({ length: n }, (_, i) => words[6 * i + 4]);
  const skip = chosen.map((v) => (v ? 0 : 1));
  return thinPoints(set, skip, edgeM, keep === 'precise' ? sd : undefined);
}

export { agreementNotices, agreementOf } from './agreement';
