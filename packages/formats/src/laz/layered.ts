import { FIELD_BYTES } from './fields';
import { comparedWith } from './beside';
import { ColourEncoder, InfraredEncoder } from './colours';
import { ArithmeticEncoder } from './encoder';
import { IntegerEncoder } from './integers';
import { RunningMedian } from './median';
import { ModelSet, SymbolModel } from './models';
import { RETURN_MAP_16, returnLevel } from './returns';
import { TimeEncoder } from './times';

const CHANNELS = 4;
const COLOUR_AT = 30;
const INFRARED_AT = 36;

/** What all layers of a chunk look at. */
interface Chunk {
  data: Uint8Array;
  view: DataView;
  step: number;
  count: number;
  channel: Uint8Array;
  /** Byte of the record that a point is compared with: the last of its channel, or the one before when there is none. */
  last: Float64Array;
  /** The same for colours and extra bytes. */
  lastBeside: Float64Array;
  /** 1 where the time differs from that of `last`. */
  timeChanged: Uint8Array;
  /** 1 = last of its returns, 2 = first of its returns. */
  place: Uint8Array;
  /** Mean class of the corrections in x and y. */
  planeClass: Uint8Array;
}

type Layer = (chunk: Chunk, encoder: ArithmeticEncoder) => boolean;

/** Makes something of each channel's own when the channel is first met; all begin from the record before. */
function perChannel<T>(make: (last: number) => T): (chunk: Chunk, i: number) => T {
  const made: (T | undefined)[] = new Array<T | undefined>(CHANNELS).fill(undefined);
  return (chunk, i) => (made[chunk.channel[i]] ??= make(chunk.last[i]));
}

/** Codes chunks of the point formats 6 to 8: each field in a layer of its own, with models for each scanner channel. */
export class LayeredChunks {
  private readonly layers: Layer[];
  private readonly encoder = new ArithmeticEncoder(1 << 18);

  constructor(
    format: number,
    private readonly pointBytes: number,
  ) {
    const plain = FIELD_BYTES[format];
    this.layers = [
      placeLayer,
      heightLayer,
      classLayer,
      flagsLayer,
      intensityLayer,
      angleLayer,
      userLayer,
      sourceLayer,
      timeLayer,
      ...(format >= 7 ? [colourLayer] : []),
      ...(format === 8 ? [infraredLayer] : []),
      ...Array.from({ length: pointBytes - plain }, (_, k) => byteLayer(plain + k)),
    ];
  }

  /** @returns the chunk: the first point as it is, the number of points, the layers' sizes, the layers. */
  encode(records: Uint8Array, count: number): Uint8Array {
    const chunk = prepare(records, this.pointBytes, count);
    const { layers, encoder } = this;
    const codes = layers.map((layer) => {
      encoder.reset();
      return layer(chunk, encoder) ? encoder.finish().slice() : new Uint8Array(0);
    });
    const head = this.pointBytes + 4 + 4 * layers.length;
    const out = new Uint8Array(codes.reduce((sum, c) => sum + c.length, head));
    const view = new DataView(out.buffer);
    out.set(records.subarray(0, this.pointBytes));
    view.setUint32(this.pointBytes, count, true);
    let at = head;
    codes.forEach((code, k) => {
      view.setUint32(this.pointBytes + 4 + 4 * k, code.length, true);
      out.set(code, at);
      at += code.length;
    });
    return out;
  }
}

function prepare(data: Uint8Array, step: number, count: number): Chunk {
  const view = new DataView(data.buffer, data.byteOffset, data.byteLength);
  const channel = new Uint8Array(count);
  const last = new Float64Array(count);
  const timeChanged = new Uint8Array(count);
  const place = new Uint8Array(count);
  const latest = new Float64Array(CHANNELS).fill(-1);
  for (let i = 0, o = 0; i < count; i++, o += step) {
    const c = (data[o + 15] >> 4) & 3;
    channel[i] = c;
    const before = latest[c] >= 0 ? latest[c] : o - step;
    last[i] = before;
    latest[c] = o;
    const r = data[o + 14] & 15;
    const n = data[o + 14] >> 4;
    place[i] = (r === 1 ? 2 : 0) + (r >= n ? 1 : 0);
    if (i === 0) continue;
    for (let k = 22; k < 30; k++) if (data[o + k] !== data[before + k]) timeChanged[i] = 1;
  }
  return {
    data,
    view,
    step,
    count,
    channel,
    last,
    lastBeside: comparedWith(data, step, count),
    timeChanged,
    place,
    planeClass: new Uint8Array(count),
  };
}

/** Channel, returns, and x and y. */
const placeLayer: Layer = (chunk, encoder) => {
  const { data, view, step, count, channel, last, timeChanged, planeClass } = chunk;
  const of = perChannel(() => ({
    changed: Array.from({ length: 8 }, () => new SymbolModel(128)),
    channel: new SymbolModel(3),
    counts: new ModelSet(16, 16),
    numbers: new ModelSet(16, 16),
    sameTime: new SymbolModel(13),
    dx: new IntegerEncoder(encoder, 32, 2),
    dy: new IntegerEncoder(encoder, 32, 22),
    medianX: Array.from({ length: 12 }, () => new RunningMedian()),
    medianY: Array.from({ length: 12 }, () => new RunningMedian()),
  }));
  for (let i = 1, o = step; i < count; i++, o += step) {
    const old = of(chunk, i - 1);
    const p = last[i];
    const before = data[o - step + 14];
    // a channel that is new at i - 1 has not seen a change of time of its own: the flag there says so
    const context =
      ((before & 15) === 1 ? 1 : 0) + ((before & 15) >= before >> 4 ? 2 : 0) + (timeChanged[i - 1] ? 4 : 0);
    const lastR = data[p + 14] & 15;
    const lastN = data[p + 14] >> 4;
    const r = data[o + 14] & 15;
    const n = data[o + 14] >> 4;
    let changed = 0;
    if (r !== lastR) changed = r === ((lastR + 1) & 15) ? 1 : r === ((lastR + 15) & 15) ? 2 : 3;
    if (n !== lastN) changed |= 4;
    if (view.getInt16(o + 18, true) !== view.getInt16(p + 18, true)) changed |= 8;
    if (timeChanged[i]) changed |= 16;
    if (view.getUint16(o + 20, true) !== view.getUint16(p + 20, true)) changed |= 32;
    if (channel[i] !== channel[i - 1]) changed |= 64;
    encoder.symbol(old.changed[context], changed);
    if (changed & 64) encoder.symbol(old.channel, ((channel[i] - channel[i - 1] + 4) & 3) - 1);
    const own = of(chunk, i);
    if (changed & 4) encoder.symbol(own.counts.of(lastN), n);
    if ((changed & 3) === 3) {
      if (timeChanged[i]) encoder.symbol(own.numbers.of(lastR), r);
      else encoder.symbol(own.sameTime, r - lastR > 1 ? r - lastR - 2 : r - lastR + 14);
    }
    const m = (RETURN_MAP_16[16 * n + r] << 1) | timeChanged[i];
    const single = n === 1 ? 1 : 0;
    const dx = (view.getInt32(o, true) - view.getInt32(p, true)) | 0;
    own.dx.encode(own.medianX[m].value, dx, single);
    own.medianX[m].add(dx);
    const dy = (view.getInt32(o + 4, true) - view.getInt32(p + 4, true)) | 0;
    own.dy.encode(own.medianY[m].value, dy, single + (own.dx.k < 20 ? own.dx.k & ~1 : 20));
    own.medianY[m].add(dy);
    planeClass[i] = (own.dx.k + own.dy.k) >> 1;
  }
  return true;
};

const heightLayer: Layer = (chunk, encoder) => {
  const { data, view, step, count, planeClass } = chunk;
  const of = perChannel((p) => ({
    z: new IntegerEncoder(encoder, 32, 20),
    last: new Int32Array(8).fill(view.getInt32(Math.max(0, p) + 8, true)),
  }));
  of(chunk, 0);
  for (let i = 1, o = step; i < count; i++, o += step) {
    const own = of(chunk, i);
    const n = data[o + 14] >> 4;
    const l = returnLevel(n, data[o + 14] & 15);
    const k = planeClass[i];
    const z = view.getInt32(o + 8, true);
    own.z.encode(own.last[l], z, (n === 1 ? 1 : 0) + (k < 18 ? k & ~1 : 18));
    own.last[l] = z;
  }
  return true;
};

/** Whether any point differs from the one it is compared with in these bytes. */
function differs(chunk: Chunk, from: number, to: number, mask = 255, last = chunk.last): boolean {
  const { data, step, count } = chunk;
  for (let i = 1, o = step; i < count; i++, o += step)
    for (let k = from; k < to; k++) if ((data[last[i] + k] ^ data[o + k]) & mask) return true;
  return false;
}

const classLayer: Layer = (chunk, encoder) => {
  if (!differs(chunk, 16, 17)) return false;
  const { data, step, count, last, place } = chunk;
  const of = perChannel(() => new ModelSet(64, 256));
  for (let i = 1, o = step; i < count; i++, o += step)
    encoder.symbol(of(chunk, i).of(((data[last[i] + 16] & 31) << 1) + (place[i] === 3 ? 1 : 0)), data[o + 16]);
  return true;
};

/** Classification flags, direction of the scan and edge of the line; not the channel between them. */
const FLAGS = 0xcf;

const flagsLayer: Layer = (chunk, encoder) => {
  if (!differs(chunk, 15, 16, FLAGS)) return false;
  const { data, step, count, last } = chunk;
  const of = perChannel(() => new ModelSet(64, 64));
  const flags = (byte: number) => (byte & 15) | ((byte >> 2) & 0x30);
  for (let i = 1, o = step; i < count; i++, o += step)
    encoder.symbol(of(chunk, i).of(flags(data[last[i] + 15])), flags(data[o + 15]));
  return true;
};

const intensityLayer: Layer = (chunk, encoder) => {
  if (!differs(chunk, 12, 14)) return false;
  const { view, step, count, place, timeChanged } = chunk;
  const of = perChannel((p) => ({
    values: new IntegerEncoder(encoder, 16, 4),
    last: new Uint16Array(8).fill(view.getUint16(Math.max(0, p) + 12, true)),
  }));
  of(chunk, 0);
  for (let i = 1, o = step; i < count; i++, o += step) {
    const own = of(chunk, i);
    const c = (place[i] << 1) | timeChanged[i];
    const v = view.getUint16(o + 12, true);
    own.values.encode(own.last[c], v, place[i]);
    own.last[c] = v;
  }
  return true;
};

/** Only where a point says that its angle changed. */
const angleLayer: Layer = (chunk, encoder) => {
  const { view, step, count, last, timeChanged } = chunk;
  const of = perChannel(() => new IntegerEncoder(encoder, 16, 2));
  let any = false;
  for (let i = 1, o = step; i < count; i++, o += step) {
    const a = view.getInt16(o + 18, true);
    const b = view.getInt16(last[i] + 18, true);
    if (a === b) continue;
    of(chunk, i).encode(b, a, timeChanged[i]);
    any = true;
  }
  return any;
};

const userLayer: Layer = (chunk, encoder) => {
  if (!differs(chunk, 17, 18)) return false;
  const { data, step, count, last } = chunk;
  const of = perChannel(() => new ModelSet(64, 256));
  for (let i = 1, o = step; i < count; i++, o += step)
    encoder.symbol(of(chunk, i).of(data[last[i] + 17] >> 2), data[o + 17]);
  return true;
};

const sourceLayer: Layer = (chunk, encoder) => {
  const { view, step, count, last } = chunk;
  const of = perChannel(() => new IntegerEncoder(encoder, 16, 1));
  let any = false;
  for (let i = 1, o = step; i < count; i++, o += step) {
    const a = view.getUint16(o + 20, true);
    const b = view.getUint16(last[i] + 20, true);
    if (a === b) continue;
    of(chunk, i).encode(b, a, 0);
    any = true;
  }
  return any;
};

const timeLayer: Layer = (chunk, encoder) => {
  const { view, step, count, timeChanged } = chunk;
  const of = perChannel((p) => {
    const at = Math.max(0, p) + 22;
    return new TimeEncoder(encoder, 'layered', view.getInt32(at + 4, true), view.getUint32(at, true));
  });
  of(chunk, 0);
  let any = false;
  for (let i = 1, o = step; i < count; i++, o += step) {
    const own = of(chunk, i);
    if (!timeChanged[i]) continue;
    own.encode(view.getInt32(o + 26, true), view.getUint32(o + 22, true));
    any = true;
  }
  return any;
};

const colourLayer: Layer = (chunk, encoder) => {
  if (!differs(chunk, COLOUR_AT, COLOUR_AT + 6, 255, chunk.lastBeside)) return false;
  const { data, step, count, lastBeside } = chunk;
  const of = perChannel(() => new ColourEncoder(encoder));
  for (let i = 1, o = step; i < count; i++, o += step)
    of(chunk, i).encode(data, lastBeside[i] + COLOUR_AT, o + COLOUR_AT);
  return true;
};

const infraredLayer: Layer = (chunk, encoder) => {
  if (!differs(chunk, INFRARED_AT, INFRARED_AT + 2, 255, chunk.lastBeside)) return false;
  const { data, step, count, lastBeside } = chunk;
  const of = perChannel(() => new InfraredEncoder(encoder));
  for (let i = 1, o = step; i < count; i++, o += step)
    of(chunk, i).encode(data, lastBeside[i] + INFRARED_AT, o + INFRARED_AT);
  return true;
};

/** One byte of the extra bytes. */
function byteLayer(k: number): Layer {
  return (chunk, encoder) => {
    if (!differs(chunk, k, k + 1, 255, chunk.lastBeside)) return false;
    const { data, step, count, lastBeside } = chunk;
    const of = perChannel(() => new SymbolModel(256));
    for (let i = 1, o = step; i < count; i++, o += step)
      encoder.symbol(of(chunk, i), (data[o + k] - data[lastBeside[i] + k]) & 255);
    return true;
  };
}
