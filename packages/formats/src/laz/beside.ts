import { FIELD_BYTES } from './fields';
import { ArithmeticDecoder } from './decoder';
import { SymbolModel } from './models';

/** Bytes of a record before its colours. */
const FIELDS_END = 30;
const FIELD_LAYERS = 9;

/**
 * Byte of the record that each point's colours and extra bytes are compared with. Where the channel changes that is
 * the last of the channel before, whose place it takes; only a channel met for the first time begins a place of its
 * own. So the third version of these fields has it; the fourth compares within the channel.
 * @param records whole records of formats 6 and later, of which only the channel is looked at.
 */
export function comparedWith(records: Uint8Array, step: number, count: number, version = 3): Float64Array {
  const out = new Float64Array(count);
  const latest = new Float64Array(4).fill(-1);
  const channel = (o: number) => (records[o + 15] >> 4) & 3;
  latest[channel(0)] = 0;
  for (let i = 1, o = step; i < count; i++, o += step) {
    const c = channel(o);
    const before = channel(o - step);
    const from = version >= 4 && latest[c] >= 0 ? c : before;
    out[i] = latest[from];
    latest[latest[c] < 0 ? c : from] = o;
  }
  return out;
}

/** Whether points of several scanner channels stand in the records. */
export function severalChannels(records: Uint8Array, step: number, count: number): boolean {
  for (let o = 0; o < count * step; o += step) if ((records[o + 15] ^ records[15]) & 0x30) return true;
  return false;
}

/**
 * Decodes the layers of colours and extra bytes of a chunk into records whose other fields are there already. For
 * chunks of several channels, where the general decoder loses the channel.
 * @param chunk the compressed chunk.
 * @param version of these fields as the compression record gives it.
 */
export function decodeBeside(
  format: number,
  step: number,
  chunk: Uint8Array,
  records: Uint8Array,
  count: number,
  version: number,
): void {
  const view = new DataView(chunk.buffer, chunk.byteOffset, chunk.byteLength);
  const plain = FIELD_BYTES[format];
  const colourLayers = format - 6;
  const layers = FIELD_LAYERS + colourLayers + step - plain;
  let at = step + 4 + 4 * layers;
  const compared = comparedWith(records, step, count, version);
  for (let k = 0; k < layers; k++) {
    const bytes = view.getUint32(step + 4 + 4 * k, true);
    if (at + bytes > chunk.length) throw new Error('layer beyond its chunk');
    const code = chunk.subarray(at, at + bytes);
    at += bytes;
    const beside = k - FIELD_LAYERS;
    if (beside < 0) continue;
    const decode = bytes ? new ArithmeticDecoder(code) : undefined;
    if (beside >= colourLayers) bytesLayer(decode, records, step, count, compared, plain + beside - colourLayers);
    else if (beside === 0) colourLayer(decode, records, step, count, compared);
    else infraredLayer(decode, records, step, count, compared);
  }
}

const models = (count: number, symbols: number) => Array.from({ length: count }, () => new SymbolModel(symbols));

/** Models of each channel, made when first used. */
function channels<T>(records: Uint8Array, make: () => T): (o: number) => T {
  const made: (T | undefined)[] = [];
  return (o) => (made[(records[o + 15] >> 4) & 3] ??= make());
}

function bytesLayer(
  decoder: ArithmeticDecoder | undefined,
  records: Uint8Array,
  step: number,
  count: number,
  compared: Float64Array,
  k: number,
): void {
  const of = channels(records, () => new SymbolModel(256));
  for (let i = 1, o = step; i < count; i++, o += step)
    records[o + k] = records[compared[i] + k] + (decoder ? decoder.symbol(of(o)) : 0);
}

const clamp = (v: number) => (v < 0 ? 0 : v > 255 ? 255 : v);

function colourLayer(
  decoder: ArithmeticDecoder | undefined,
  records: Uint8Array,
  step: number,
  count: number,
  compared: Float64Array,
): void {
  const of = channels(records, () => ({ used: new SymbolModel(128), bytes: models(6, 256) }));
  for (let i = 1, o = step; i < count; i++, o += step) {
    const last = compared[i] + FIELDS_END;
    const to = o + FIELDS_END;
    records.copyWithin(to, last, last + 6);
    if (!decoder) continue;
    const own = of(o);
    const changed = decoder.symbol(own.used);
    for (let k = 0; k < 2; k++)
      if (changed & (1 << k)) records[to + k] = records[last + k] + decoder.symbol(own.bytes[k]);
    for (let k = 0; k < 2; k++) {
      if (!(changed & 64)) {
        records[to + 2 + k] = records[to + 4 + k] = records[to + k];
        continue;
      }
      let by = records[to + k] - records[last + k];
      const green = records[last + 2 + k];
      if (changed & (4 << k)) records[to + 2 + k] = clamp(by + green) + decoder.symbol(own.bytes[2 + k]);
      if (changed & (16 << k)) {
        by = Math.trunc((by + records[to + 2 + k] - green) / 2);
        records[to + 4 + k] = clamp(by + records[last + 4 + k]) + decoder.symbol(own.bytes[4 + k]);
      }
    }
  }
}

function infraredLayer(
  decoder: ArithmeticDecoder | undefined,
  records: Uint8Array,
  step: number,
  count: number,
  compared: Float64Array,
): void {
  const of = channels(records, () => ({ used: new SymbolModel(4), bytes: models(2, 256) }));
  for (let i = 1, o = step; i < count; i++, o += step) {
    const last = compared[i] + FIELDS_END + 6;
    const to = o + FIELDS_END + 6;
    records.copyWithin(to, last, last + 2);
    if (!decoder) continue;
    const own = of(o);
    const changed = decoder.symbol(own.used);
    for (let k = 0; k < 2; k++)
      if (changed & (1 << k)) records[to + k] = records[last + k] + decoder.symbol(own.bytes[k]);
  }
}
