import { Problem } from '@longheron/core/shared';
import { type Pages } from './pages';
import { type Field, type Scan } from './scans';

const DATA = 1;
const SECTION_BYTES = 32;
/** A packet says what it is, how long it is, and how many streams it has. */
const [PACKET_HEAD, DATA_HEAD] = [4, 6];
/** Points handed on at once: values that never change take no room, so that packets alone do not bound them. */
const MAX_AT_ONCE = 1 << 16;

/** A stream of packed values that comes in pieces. */
class BitStream {
  private bytes = new Uint8Array(0);
  /** First bit not yet taken. */
  private at = 0;

  constructor(readonly field: Field) {}

  push(piece: Uint8Array): void {
    const from = this.at >> 3;
    const out = new Uint8Array(this.bytes.length - from + piece.length);
    out.set(this.bytes.subarray(from));
    out.set(piece, this.bytes.length - from);
    this.bytes = out;
    this.at &= 7;
  }

  /** Values there are. */
  get ready(): number {
    const { bits } = this.field;
    return bits === 0 ? Infinity : Math.floor((8 * this.bytes.length - this.at) / bits);
  }

  take(count: number): Float64Array {
    const { kind, bits, least, scale, offset } = this.field;
    const out = new Float64Array(count);
    const { bytes } = this;
    if (kind !== 'integer') {
      const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
      const step = bits >> 3;
      for (let i = 0, o = this.at >> 3; i < count; i++, o += step)
        out[i] = kind === 'float32' ? view.getFloat32(o, true) : view.getFloat64(o, true);
    } else if (bits === 0) out.fill(least * scale + offset);
    else
      for (let i = 0, bit = this.at; i < count; i++) {
        let value = 0;
        let weight = 1;
        for (let left = bits; left > 0;) {
          const shift = bit & 7;
          const take = Math.min(left, 8 - shift);
          value += ((bytes[bit >> 3] >> shift) & ((1 << take) - 1)) * weight;
          weight *= 1 << take;
          bit += take;
          left -= take;
        }
        out[i] = (value + least) * scale + offset;
      }
    this.at += count * bits;
    return out;
  }
}

/**
 * Unpacks the points of a scan packet by packet.
 * @returns batches of columns by the fields' names.
 */
export async function* unpackScan(
  pages: Pages,
  scan: Scan,
  wanted: ReadonlySet<string>,
  file: string,
): AsyncGenerator<{ count: number; columns: Map<string, Float64Array> }> {
  const damaged = (text: string, at: number) =>
    new Problem(`${scan.name}: ${text}`, {
      code: 'e57-packet',
      file,
      place: `byte ${at} (without page checks)`,
      remedy: 'The file was damaged on its way: copy it again from its origin.',
    });
  const section = pages.logical(scan.at);
  const head = new DataView((await pages.read(section, SECTION_BYTES)).buffer);
  if (head.getUint8(0) !== 1) throw damaged('the place of the points holds something else.', section);
  const sectionEnd = section + Number(head.getBigUint64(8, true));
  let at = pages.logical(Number(head.getBigUint64(16, true)));
  const streams = scan.fields.map((f) => new BitStream(f));
  const used = streams.filter((s) => wanted.has(s.field.name));
  let left = scan.count;
  while (left > 0) {
    if (at + 4 > sectionEnd) throw damaged(`${left} of ${scan.count} points are missing.`, at);
    const start = new DataView((await pages.read(at, PACKET_HEAD)).buffer);
    const length = start.getUint16(2, true) + 1;
    if (length < PACKET_HEAD) throw damaged(`a packet of ${length} bytes is too short.`, at);
    if (start.getUint8(0) === DATA) {
      if (length < DATA_HEAD + 2 * streams.length) throw damaged(`a packet of ${length} bytes is too short.`, at);
      const packet = await pages.read(at, length);
      const view = new DataView(packet.buffer);
      const count = view.getUint16(4, true);
      if (count !== streams.length) throw damaged(`a packet has ${count} streams for ${streams.length} fields.`, at);
      let from = DATA_HEAD + 2 * count;
      for (let k = 0; k < count; k++) {
        const bytes = view.getUint16(6 + 2 * k, true);
        if (from + bytes > length) throw damaged('a stream reaches beyond its packet.', at);
        if (wanted.has(streams[k].field.name)) streams[k].push(packet.subarray(from, from + bytes));
        from += bytes;
      }
      let ready = used.reduce((least, s) => Math.min(least, s.ready), left);
      while (ready > 0) {
        const count = Math.min(ready, MAX_AT_ONCE);
        yield { count, columns: new Map(used.map((s) => [s.field.name, s.take(count)])) };
        ready -= count;
        left -= count;
      }
    }
    at += length;
  }
}
