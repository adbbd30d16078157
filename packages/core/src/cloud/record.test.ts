import { describe, expect, it } from 'vitest';
import { attributesOf, classWord, ColumnBuffers, positionsOf, putAttributes, RECORD_WORDS } from './record';

/** A point as docs/formats/cloud-store.md writes it, byte by byte. */
function written(p: readonly number[]): { position: Buffer; attributes: Buffer } {
  const [x, y, z, intensity, strip, time, sd, echo, echoes] = p;
  const position = Buffer.alloc(12);
  [x, y, z].forEach((v, k) => position.writeInt32LE(v, 4 * k));
  const attributes = Buffer.alloc(12);
  attributes.writeUInt16LE(intensity, 0);
  attributes.writeUInt16LE(strip, 2);
  attributes.writeUInt32LE(time, 4);
  attributes.writeUInt16LE(sd, 8);
  attributes.writeUInt8(echo, 10);
  attributes.writeUInt8(echoes, 11);
  return { position, attributes };
}
const POINTS = [
  [0, -1, 2 ** 31 - 1, 65535, 65535, 4_000_000_000, 65535, 255, 255],
  [1_234_567, 7, -(2 ** 31), 1, 2, 3, 4, 5, 6],
  [0, 0, 0, 0, 0, 0, 0, 0, 0],
] as const;

describe('the stored point', () => {
  it('is written as the page on the store has it, from records in any order', () => {
    const records = new Int32Array(RECORD_WORDS * POINTS.length);
    POINTS.forEach(([x, y, z, intensity, strip, time, sd, echo, echoes], i) => {
      const o = RECORD_WORDS * i;
      records.set([x, y, z], o);
      putAttributes(records, o + 3, intensity, strip, time, sd * 1e-4, echo, echoes);
      records.set([100 + i, 4_000_000_000 + i], o + 6);
    });
    const out = new ColumnBuffers(8, false);
    const order = Uint32Array.of(2, 0, 1);
    out.add(records, order, 0, 1);
    out.add(records, order, 1, 3);
    const [position, attributes, classes, rows] = out.full().map((b) => Buffer.from(b));
    const expected = [...order].map((i) => written(POINTS[i]));
    expect(position).toEqual(Buffer.concat(expected.map((e) => e.position)));
    expect(attributes).toEqual(Buffer.concat(expected.map((e) => e.attributes)));
    expect([...classes]).toEqual([102, 100, 101]);
    expect([0, 4, 8].map((o) => rows.readUInt32LE(o))).toEqual([4_000_000_002, 4_000_000_000, 4_000_000_001]);
  });

  it('has its colour in a column of its own, where there are colours', () => {
    const records = new Int32Array(2 * RECORD_WORDS);
    records[6] = classWord(255, 1, 2, 255);
    records[RECORD_WORDS + 6] = classWord(2, 254, 128, 0);
    const out = new ColumnBuffers(2, true);
    out.add(records, Uint32Array.of(1, 0), 0, 2);
    const [, , classes, , colours] = out.full();
    expect([...classes]).toEqual([2, 255]);
    expect([...colours]).toEqual([254, 128, 0, 1, 2, 255]);
  });

  it('is read as it stands there, also from the middle of a buffer', () => {
    const all = POINTS.map(written);
    const bytes = Buffer.concat([Buffer.alloc(12), ...all.map((p) => p.attributes)]);
    const plain = new Uint8Array(bytes).buffer;
    const a = attributesOf({ buffer: plain, byteOffset: 12 }, POINTS.length);
    POINTS.forEach(([, , , ...rest], i) => {
      expect([a.intensity(i), a.strip(i), a.time(i), a.sdSteps(i), a.echo(i), a.echoes(i)]).toEqual(rest);
      expect(a.sdM(i)).toBeCloseTo(rest[3] / 10000, 9);
    });
    const positions = new Uint8Array(Buffer.concat(all.map((p) => p.position))).buffer;
    expect([...positionsOf(positions, 12, 2)]).toEqual([...POINTS[1].slice(0, 3), 0, 0, 0]);
  });

  it('keeps a deviation that is too large as the largest there is', () => {
    const words = new Int32Array(3);
    putAttributes(words, 0, 0, 0, 0, 50, 1, 2);
    expect(attributesOf(words, 1).sdSteps(0)).toBe(65535);
  });
});
