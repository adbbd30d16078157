import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type PointBatch } from '../points';
import { crc32c, openE57 } from '.';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'e57-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const PAGE = 1024;

/** Puts pages with their checks around logical bytes; a physical place goes to `at`. */
function paged(logical: Uint8Array): Uint8Array {
  const pages = Math.ceil(logical.length / (PAGE - 4));
  const out = new Uint8Array(pages * PAGE);
  for (let k = 0; k < pages; k++) {
    out.set(logical.subarray(k * (PAGE - 4), (k + 1) * (PAGE - 4)), k * PAGE);
    const body = out.subarray(k * PAGE, k * PAGE + PAGE - 4);
    new DataView(out.buffer).setUint32(k * PAGE + PAGE - 4, crc32c(body), false);
  }
  return out;
}
const physical = (logical: number) => Math.floor(logical / (PAGE - 4)) * PAGE + (logical % (PAGE - 4));

/** Packs whole numbers bit by bit, lowest first, as text of zeros and ones would. */
function packBits(values: bigint[], bits: number): Uint8Array {
  const text = values.map((v) => v.toString(2).padStart(bits, '0').split('').reverse().join('')).join('');
  const out = new Uint8Array(Math.ceil(text.length / 8));
  [...text].forEach((c, i) => {
    if (c === '1') out[i >> 3] |= 1 << (i & 7);
  });
  return out;
}

const bytesOf = (values: number[], bits: 32 | 64) =>
  new Uint8Array((bits === 32 ? Float32Array : Float64Array).from(values).buffer);

/** A section of packed points; each stream is cut into packets of a few bytes, in odd places. */
function section(streams: Uint8Array[], at: number, cut: number): Uint8Array {
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

function fileOf(parts: { at: number; bytes: Uint8Array }[], xml: string): Uint8Array {
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

async function all(path: string): Promise<PointBatch[]> {
  const source = await openE57(path);
  const out: PointBatch[] = [];
  for await (const b of source.batches()) out.push(b);
  await source.close();
  return out;
}
const joined = (batches: PointBatch[], of: (b: PointBatch) => ArrayLike<number>) =>
  batches.flatMap((b) => Array.from(of(b)));

const N = 700;
const i = Array.from({ length: N }, (_, k) => k);

/** Two scans: one of scaled whole numbers of odd widths, turned and shifted; one of ranges and angles. */
function twoScans(): Uint8Array {
  const first = section(
    [
      packBits(
        i.map((k) => BigInt(k * 37 + 5000)),
        21,
      ), // x: scale 0.001, least −5000
      packBits(
        i.map((k) => BigInt(2 * k)),
        11,
      ),
      packBits(
        i.map((k) => BigInt(k % 100)),
        7,
      ),
      packBits(
        i.map((k) => BigInt(k % 512)),
        9,
      ), // intensity 0–511
      packBits(
        i.map((k) => (k === 3 ? 2n : 0n)),
        2,
      ),
      packBits(
        i.map((k) => BigInt(k % 256)),
        8,
      ),
      packBits(
        i.map(() => 255n),
        8,
      ),
      new Uint8Array(0), // blue: always 7
      bytesOf(
        i.map((k) => k * 0.25),
        64,
      ),
    ],
    48,
    50,
  );
  const secondAt = 48 + first.length + 700;
  const second = section(
    [
      bytesOf(
        i.map(() => 10),
        32,
      ),
      bytesOf(
        i.map((k) => (k * Math.PI) / 350),
        64,
      ),
      bytesOf(
        i.map(() => Math.PI / 6),
        64,
      ),
    ],
    secondAt,
    31,
  );
  const xml = `<?xml version="1.0"?><e57Root type="Structure" xmlns="http://www.astm.org/COMMIT/E57/2010-e57-v1.0">
<coordinateMetadata type="String"><![CDATA[EPSG:25832]]></coordinateMetadata>
<data3D type="Vector" allowHeterogeneousChildren="1">
<vectorChild type="Structure"><name type="String"><![CDATA[quay 1]]></name>
<pose type="Structure"><rotation type="Structure"><w type="Float">0.7071067811865476</w><x type="Float"/><y type="Float"/><z type="Float">0.7071067811865476</z></rotation>
<translation type="Structure"><x type="Float">467000</x><y type="Float">6215000</y><z type="Float">2.5</z></translation></pose>
<acquisitionStart type="Structure"><dateTimeValue type="Float">1465635600</dateTimeValue></acquisitionStart>
<colorLimits type="Structure"><colorRedMinimum type="Integer">0</colorRedMinimum><colorRedMaximum type="Integer">255</colorRedMaximum></colorLimits>
<points type="CompressedVector" fileOffset="${physical(48)}" recordCount="${N}"><prototype type="Structure">
<cartesianX type="ScaledInteger" minimum="-5000" maximum="2000000" scale="0.001" offset="0"/>
<cartesianY type="ScaledInteger" minimum="0" maximum="2047" scale="0.01" offset="3"/>
<cartesianZ type="Integer" minimum="-50" maximum="77"/>
<intensity type="Integer" minimum="0" maximum="511"/>
<cartesianInvalidState type="Integer" minimum="0" maximum="2"/>
<colorRed type="Integer" minimum="0" maximum="255"/><colorGreen type="Integer" minimum="0" maximum="255"/><colorBlue type="Integer" minimum="7" maximum="7"/>
<timeStamp type="Float"/>
</prototype></points></vectorChild>
<vectorChild type="Structure"><points type="CompressedVector" fileOffset="${physical(secondAt)}" recordCount="${N}"><prototype type="Structure">
<sphericalRange type="Float" precision="single"/><sphericalAzimuth type="Float"/><sphericalElevation type="Float"/>
</prototype></points></vectorChild></data3D>
<images2D type="Vector"><vectorChild type="Structure"><name type="String">photo</name></vectorChild></images2D></e57Root>`;
  return fileOf(
    [
      { at: 48, bytes: first },
      { at: secondAt, bytes: second },
    ],
    xml,
  );
}

describe('E57', () => {
  it('has the published check value of CRC-32C', () => {
    expect(crc32c(new TextEncoder().encode('123456789'))).toBe(0xe3069283);
  });

  it('unpacks values of odd widths over packets and pages, placed by the pose', async () => {
    const path = join(folder, 'two.e57');
    await writeFile(path, twoScans());
    const source = await openE57(path);
    expect([source.declared, source.system, source.adjustedTime]).toEqual([2 * N, 'EPSG:25832', false]);
    expect(source.lost).toEqual(['1 image']);
    expect(source.details[0]).toEqual(['Scans', 'quay 1, scan 2']);
    await source.close();
    const b = await all(path);
    const x = joined(b, (q) => q.x);
    const y = joined(b, (q) => q.y);
    const z = joined(b, (q) => q.z);
    expect(x.length).toBe(2 * N);
    for (const k of [0, 1, 2, 4, 350, 699]) {
      // a quarter turn to the left: east is minus the scan's y, north its x
      expect(x[k]).toBeCloseTo(467000 - (2 * k * 0.01 + 3), 9);
      expect(y[k]).toBeCloseTo(6215000 + k * 0.037, 9);
      expect(z[k]).toBeCloseTo(2.5 + (k % 100) - 50, 9);
    }
    expect(x[3]).toBeNaN();
    expect(joined(b, (q) => q.intensity!)[100]).toBe(Math.round((100 / 511) * 65535));
    expect([0, 1, 2].map((c) => joined(b, (q) => q.colour![c])[200])).toEqual([200 * 257, 65535, 7 * 257]);
    expect(joined(b, (q) => q.time!)[10]).toBe(465635600 + 2.5);
    expect(joined(b, (q) => q.source!)[N - 1]).toBe(1);
    expect(joined(b, (q) => q.source!)[N]).toBe(2);
    const k = N + 175;
    expect([x[k], y[k], z[k]].map((v) => +v.toFixed(6))).toEqual([0, 8.660254, 5].map((v) => expect.closeTo(v, 5)));
  });

  it('names the page that was damaged, the end that is missing, entities', async () => {
    const bytes = twoScans();
    const broken = bytes.slice();
    broken[2100] ^= 4;
    await writeFile(join(folder, 'broken.e57'), broken);
    await expect(all(join(folder, 'broken.e57'))).rejects.toMatchObject({ code: 'e57-page', place: 'byte 2048' });
    await writeFile(join(folder, 'short.e57'), bytes.subarray(0, bytes.length - 1500));
    await expect(all(join(folder, 'short.e57'))).rejects.toMatchObject({ code: 'e57-header', place: 'byte 16' });
    await writeFile(
      join(folder, 'entity.e57'),
      fileOf([], '<!DOCTYPE e [<!ENTITY a "b">]><e57Root>&a;</e57Root>'.padEnd(1100)),
    );
    await expect(all(join(folder, 'entity.e57'))).rejects.toMatchObject({ code: 'e57-description' });
  });
});
