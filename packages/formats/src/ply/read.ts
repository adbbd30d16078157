import { Problem, tick, type Watch } from '@longheron/core/shared';
import { openFile, type ByteSource } from '../bytes';
import { linesOf } from '../text/lines';
import { allocateBatch, to16, type PointBatch, type PointSource } from '../points';

type Scalar = 'int8' | 'uint8' | 'int16' | 'uint16' | 'int32' | 'uint32' | 'float32' | 'float64';

const SCALARS: Record<string, Scalar> = {
  char: 'int8',
  uchar: 'uint8',
  short: 'int16',
  ushort: 'uint16',
  int: 'int32',
  uint: 'uint32',
  float: 'float32',
  double: 'float64',
  int8: 'int8',
  uint8: 'uint8',
  int16: 'int16',
  uint16: 'uint16',
  int32: 'int32',
  uint32: 'uint32',
  float32: 'float32',
  float64: 'float64',
};
const BYTES: Record<Scalar, number> = {
  int8: 1,
  uint8: 1,
  int16: 2,
  uint16: 2,
  int32: 4,
  uint32: 4,
  float32: 4,
  float64: 8,
};
/** Value that stands for full intensity or colour. */
const TOP: Partial<Record<Scalar, number>> = { uint8: 255, uint16: 65535, float32: 1, float64: 1 };

interface Property {
  name: string;
  type: Scalar;
  /** Byte in the record, or column in the line. */
  at: number;
}

interface PlyHead {
  form: 'ascii' | 'little' | 'big';
  count: number;
  properties: Property[];
  /** Bytes of a vertex. */
  step: number;
  dataAt: number;
  comments: string[];
  elements: string[];
}

const HEAD_BYTES = 1 << 16;
const BATCH = 1 << 15;
/** Names under which files keep the same thing. */
const NAMES = {
  intensity: ['intensity', 'scalar_intensity', 'reflectance'],
  red: ['red', 'diffuse_red', 'r'],
  green: ['green', 'diffuse_green', 'g'],
  blue: ['blue', 'diffuse_blue', 'b'],
  classification: ['classification', 'class', 'label'],
  time: ['gps_time', 'time', 'timestamp'],
  source: ['point_source_id', 'strip', 'scan'],
};

/** Opens a PLY file of points (ascii, binary of either byte order). Faces and other elements are left. */
export async function openPly(path: string, name?: string): Promise<PointSource> {
  const source = await openFile(path, name);
  try {
    const head = parseHead(await source.read(0, Math.min(source.size, HEAD_BYTES)), source.name);
    return plySource(source, head);
  } catch (error) {
    await source.close();
    throw error;
  }
}

function bad(
  file: string,
  place: string,
  text: string,
  remedy = 'Ask for the file again, or repair its header.',
): Problem {
  return new Problem(text, { code: 'ply-header', file, place, remedy });
}

function parseHead(bytes: Uint8Array, file: string): PlyHead {
  const text = new TextDecoder('latin1').decode(bytes);
  const end = /^end_header\r?\n/m.exec(text);
  if (!text.startsWith('ply') || !end) throw bad(file, 'header', 'The header of the PLY file has no end.');
  const head: PlyHead = {
    form: 'ascii',
    count: -1,
    properties: [],
    step: 0,
    dataAt: end.index + end[0].length,
    comments: [],
    elements: [],
  };
  let element = '';
  for (const [k, line] of text.slice(0, end.index).split(/\r?\n/).entries()) {
    const words = line.trim().split(/\s+/);
    const place = `line ${k + 1}`;
    if (words[0] === 'format') {
      const form = { ascii: 'ascii', binary_little_endian: 'little', binary_big_endian: 'big' }[words[1]];
      if (!form) throw bad(file, place, `The form "${words[1]}" is not known.`);
      head.form = form as PlyHead['form'];
    } else if (words[0] === 'comment' || words[0] === 'obj_info') head.comments.push(words.slice(1).join(' '));
    else if (words[0] === 'element') {
      element = words[1];
      head.elements.push(`${words[1]} (${words[2]})`);
      if (element !== 'vertex') {
        if (head.count < 0)
          throw bad(file, place, `The element "${element}" stands before the points.`, 'Write the points first.');
        continue;
      }
      head.count = Number(words[2]);
      if (!Number.isSafeInteger(head.count) || head.count < 0)
        throw bad(file, place, `"${words[2]}" is no number of points.`);
    } else if (words[0] === 'property' && element === 'vertex') {
      const type = SCALARS[words[1]];
      if (!type) throw bad(file, place, `The property "${words.at(-1)}" of kind "${words[1]}" cannot be read.`);
      head.properties.push({
        name: words[2].toLowerCase(),
        type,
        at: head.form === 'ascii' ? head.properties.length : head.step,
      });
      head.step += BYTES[type];
    }
  }
  for (const axis of ['x', 'y', 'z'])
    if (!head.properties.some((p) => p.name === axis)) throw bad(file, 'header', `The points have no "${axis}".`);
  return head;
}

function plySource(source: ByteSource, head: PlyHead): PointSource {
  if (head.form !== 'ascii' && head.dataAt + head.count * head.step > source.size)
    throw new Problem(
      `The header declares ${head.count} points, the file has room for ${Math.floor((source.size - head.dataAt) / head.step)}.`,
      {
        code: 'file-truncated',
        file: source.name,
        place: `byte ${source.size}`,
        remedy: 'The file was cut off: copy it again from its origin.',
      },
    );
  const used = new Set<Property>();
  const find = (names: string[]) => {
    const p = head.properties.find((q) => names.includes(q.name));
    if (p) used.add(p);
    return p;
  };
  const [x, y, z] = ['x', 'y', 'z'].map((n) => find([n])!);
  const intensity = find(NAMES.intensity);
  const rgb = [NAMES.red, NAMES.green, NAMES.blue].map(find);
  const columns = {
    x,
    y,
    z,
    intensity,
    colour: rgb.every(Boolean) ? (rgb as Property[]) : undefined,
    classification: find(NAMES.classification),
    time: find(NAMES.time),
    source: find(NAMES.source),
  };
  const fields = {
    intensity: !!intensity,
    colour: !!columns.colour,
    classification: !!columns.classification,
    returns: false,
    time: !!columns.time,
    source: !!columns.source,
  };
  const shift = shiftOf(head.comments);
  const left = head.properties.filter((p) => !used.has(p)).map((p) => p.name);
  return {
    name: source.name,
    declared: head.count,
    fields,
    system: head.comments.map((c) => /^crs:?\s+(\S.*)$/i.exec(c)?.[1]).find(Boolean),
    lost: [...left.map((n) => `the property "${n}"`), ...head.elements.slice(1).map((e) => `the element ${e}`)],
    details: [
      ['Form', { ascii: 'text', little: 'binary', big: 'binary, high bytes first' }[head.form]],
      ['Properties', head.properties.map((p) => p.name).join(' ')],
      ...(shift ? [['Shift', shift.join(' ')] as [string, string]] : []),
    ],
    batches: (watch) => {
      const fill = filler(columns, shift ?? [0, 0, 0]);
      return head.form === 'ascii'
        ? textBatches(source, head, fields, fill, watch)
        : binaryBatches(source, head, fields, fill, watch);
    },
    close: () => source.close(),
  };
}

/** What to add to the coordinates, as our own writer notes it. */
function shiftOf(comments: string[]): [number, number, number] | undefined {
  for (const c of comments) {
    const m = /^shift:?\s+(\S+)\s+(\S+)\s+(\S+)$/i.exec(c);
    const v = m?.slice(1).map(Number);
    if (v?.every(Number.isFinite)) return v as [number, number, number];
  }
  return undefined;
}

type Columns = {
  x: Property;
  y: Property;
  z: Property;
  intensity?: Property;
  colour?: Property[];
  classification?: Property;
  time?: Property;
  source?: Property;
};
type Get = (p: Property) => number;
type Fill = (batch: PointBatch, i: number, get: Get) => void;

function filler(c: Columns, shift: [number, number, number]): Fill {
  const top = (p: Property) => TOP[p.type] ?? 255;
  return (b, i, get) => {
    b.x[i] = get(c.x) + shift[0];
    b.y[i] = get(c.y) + shift[1];
    b.z[i] = get(c.z) + shift[2];
    if (b.intensity) b.intensity[i] = to16(get(c.intensity!), top(c.intensity!));
    if (b.colour) for (let k = 0; k < 3; k++) b.colour[k][i] = to16(get(c.colour![k]), top(c.colour![k]));
    if (b.classification) b.classification[i] = get(c.classification!);
    if (b.time) b.time[i] = get(c.time!);
    if (b.source) b.source[i] = get(c.source!);
  };
}

async function* binaryBatches(
  source: ByteSource,
  head: PlyHead,
  fields: PointSource['fields'],
  fill: Fill,
  watch?: Watch,
): AsyncGenerator<PointBatch> {
  const little = head.form === 'little';
  for (let first = 0; first < head.count; first += BATCH) {
    tick(watch, first / head.count, 'Reading points');
    const count = Math.min(BATCH, head.count - first);
    const bytes = await source.read(head.dataAt + first * head.step, count * head.step);
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    let o = 0;
    const read: Record<Scalar, (at: number) => number> = {
      int8: (at) => view.getInt8(at),
      uint8: (at) => view.getUint8(at),
      int16: (at) => view.getInt16(at, little),
      uint16: (at) => view.getUint16(at, little),
      int32: (at) => view.getInt32(at, little),
      uint32: (at) => view.getUint32(at, little),
      float32: (at) => view.getFloat32(at, little),
      float64: (at) => view.getFloat64(at, little),
    };
    const get: Get = (p) => read[p.type](o + p.at);
    const batch = allocateBatch(count, fields);
    for (let i = 0; i < count; i++, o += head.step) fill(batch, i, get);
    yield batch;
  }
}

async function* textBatches(
  source: ByteSource,
  head: PlyHead,
  fields: PointSource['fields'],
  fill: Fill,
  watch?: Watch,
): AsyncGenerator<PointBatch> {
  let done = 0;
  let words: string[] = [];
  const get: Get = (p) => Number(words[p.at]);
  let batch = allocateBatch(Math.min(BATCH, head.count), fields);
  let i = 0;
  for await (const { line, number } of linesOf(source, head.dataAt, watch)) {
    if (done === head.count) break;
    if (!line) continue;
    words = line.split(/\s+/);
    fill(batch, i, get);
    if (words.length < head.properties.length || Number.isNaN(batch.x[i] + batch.y[i] + batch.z[i]))
      throw new Problem(`"${line.slice(0, 60)}" is no point.`, {
        code: 'ply-line',
        file: source.name,
        place: `line ${number} after the header`,
        remedy: 'Repair the line, or ask for the file again.',
      });
    done++;
    if (++i === batch.count) {
      yield batch;
      batch = allocateBatch(Math.min(BATCH, head.count - done), fields);
      i = 0;
    }
  }
  if (done < head.count)
    throw new Problem(`The header declares ${head.count} points, the file holds ${done}.`, {
      code: 'file-truncated',
      file: source.name,
      place: `byte ${source.size}`,
      remedy: 'The file was cut off: copy it again from its origin.',
    });
}
