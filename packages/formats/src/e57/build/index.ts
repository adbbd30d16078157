/** Puts E57 files together from packed values and a description: for tests and for files made wrong on purpose. */
import { crc32c } from '../pages';

/** Bytes of a page with its check. */
export const PAGE = 1024;

/** Puts pages with their checks around logical bytes; a physical place goes to `at`. */
export function paged(logical: Uint8Array): Uint8Array {
  const pages = Math.ceil(logical.length / (PAGE - 4));
  const out = new Uint8Array(pages * PAGE);
  for (let k = 0; k < pages; k++) {
    out.set(logical.subarray(k * (PAGE - 4), (k + 1) * (PAGE - 4)), k * PAGE);
    const body = out.subarray(k * PAGE, k * PAGE + PAGE - 4);
    new DataView(out.buffer).setUint32(k * PAGE + PAGE - 4, crc32c(body), false);
  }
  return out;
}
/** Place in the file of one without checks. */
export const physical = (logical: number) => Math.floor(logical / (PAGE - 4)) * PAGE + (logical % (PAGE - 4));

/** Packs whole numbers bit by bit, lowest first, as text of zeros and ones would. */
export function packBits(values: bigint[], bits: number): Uint8Array {
  const text = values.map((v) => v.toString(2).padStart(bits, '0').split('').reverse().join('')).join('');
  const out = new Uint8Array(Math.ceil(text.length / 8));
  [...text].forEach((c, i) => {
    if (c === '1') out[i >> 3] |= 1 << (i & 7);
  });
  return out;
}

export const bytesOf = (values: number[], bits: 32 | 64) =>
  new Uint8Array((bits === 32 ? Float32Array : Float64Array).from(values).buffer);

/** A section of packed points; each stream is cut into packets of a few bytes, in odd places. */
export function section(streams: Uint8Array[], at: number, cut: number): Uint8Array {
  const packets: Uint8Array[] = [];
  const taken = streams.map(() => 0);
  // an index packet first, which is passed over
  const index = new Uint8Array(16);
  new DataView(index.buffer).setUint16(2, 15, true);
  packets.push(index);
  for (let turn = 0; streams.some((s, k) => taken[k] < s.length); turn++) {
    const pieces = streams.map((s, k) => {
      const piece = s.subarray(taken[k], taken[k] + cut + k + (turn % 3));
      taken[k] += piece.length;
      return piece;
    });
    const body = 6 + 2 * pieces.length + pieces.reduce((sum, p) => sum + p.length, 0);
    const packet = new Uint8Array(Math.ceil(body / 4) * 4);
    const view = new DataView(packet.buffer);
    packet[0] = 1;
    view.setUint16(2, packet.length - 1, true);
    view.setUint16(4, pieces.length, true);
    let o = 6 + 2 * pieces.length;
    pieces.forEach((p, k) => {
      view.setUint16(6 + 2 * k, p.length, true);
      packet.set(p, o);
      o += p.length;
    });
    packets.push(packet);
  }
  const out = new Uint8Array(32 + packets.reduce((sum, p) => sum + p.length, 0));
  const view = new DataView(out.buffer);
  out[0] = 1;
  view.setBigUint64(8, BigInt(out.length), true);
  view.setBigUint64(16, BigInt(physical(at + 32)), true);
  let o = 32;
  for (const p of packets) {
    out.set(p, o);
    o += p.length;
  }
  return out;
}

/** A whole file: parts at places without checks, and the description behind them. */
export function fileOf(parts: { at: number; bytes: Uint8Array }[], xml: string): Uint8Array {
  const text = new TextEncoder().encode(xml);
  const xmlAt = Math.max(48, ...parts.map((p) => p.at + p.bytes.length));
  const logical = new Uint8Array(xmlAt + text.length);
  for (const p of parts) logical.set(p.bytes, p.at);
  logical.set(text, xmlAt);
  const view = new DataView(logical.buffer);
  logical.set(new TextEncoder().encode('ASTM-E57'));
  view.setUint32(8, 1, true);
  view.setBigUint64(16, BigInt(Math.ceil(logical.length / (PAGE - 4)) * PAGE), true);
  view.setBigUint64(24, BigInt(physical(xmlAt)), true);
  view.setBigUint64(32, BigInt(text.length), true);
  view.setBigUint64(40, BigInt(PAGE), true);
  return paged(logical);
}

/** Renews the checks of pages that were changed. */
export function checkedAgain(file: Uint8Array): Uint8Array {
  const out = Uint8Array.from(file);
  for (let at = 0; at + PAGE <= out.length; at += PAGE)
    new DataView(out.buffer).setUint32(at + PAGE - 4, crc32c(out.subarray(at, at + PAGE - 4)), false);
  return out;
}
