import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type PointBatch } from '../points';
import { crc32c, openE57 } from '.';
import { bytesOf, checkedAgain, fileOf, packBits, PAGE, physical, section } from './build';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'e57-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

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
  /** A file of one scan whose description and points are as given. */
  const oneScan = (fields: string, count: number, streams: Uint8Array[], more = '') => {
    const points = section(streams, 48, 40);
    const scan = `<vectorChild type="Structure"><points type="CompressedVector" fileOffset="${physical(48)}" recordCount="${count}"><prototype type="Structure">${fields}</prototype></points></vectorChild>`;
    const head = '<?xml version="1.0"?><e57Root type="Structure"><data3D type="Vector">';
    return fileOf([{ at: 48, bytes: points }], `${head}${scan}${more || ''}</data3D></e57Root>`.padEnd(1200));
  };
  const float = (name: string) => `<${name} type="Float" precision="single"/>`;
  const fixed = (name: string, value: number) => `<${name} type="Integer" minimum="${value}" maximum="${value}"/>`;
  const open = async (name: string, bytes: Uint8Array) => {
    await writeFile(join(folder, name), bytes);
    return all(join(folder, name));
  };

  it('says which coordinate is missing', async () => {
    const line = bytesOf([1, 2, 3], 32);
    await expect(
      open('flat.e57', oneScan(float('cartesianX') + float('cartesianY'), 3, [line, line])),
    ).rejects.toMatchObject({ code: 'e57-fields', message: expect.stringContaining('no "cartesianZ"') });
    await expect(open('none.e57', oneScan(float('intensity'), 3, [line]))).rejects.toThrow(/neither coordinates/);
  });

  it('hands out points that take no room piece by piece, and refuses more than a file can hold', async () => {
    const constant = ['cartesianX', 'cartesianY', 'cartesianZ'].map((n, k) => fixed(n, k + 1)).join('');
    const none = new Uint8Array(0);
    const packet = (count: number) => oneScan(constant + fixed('intensity', 7), count, [none, none, none, none]);
    await expect(open('many.e57', packet(50_000_000))).rejects.toMatchObject({ code: 'e57-count' });
    // half of the fields change: the points are counted by their bits
    const mixed = oneScan(constant + float('intensity'), 1e9, [none, none, none, bytesOf([1], 32)]);
    await expect(open('mixed.e57', mixed)).rejects.toMatchObject({ code: 'e57-count' });
    const bits = oneScan(constant.replace('maximum="1"', 'maximum="2"'), 8000, [
      packBits(Array<bigint>(8000).fill(1n), 1),
      none,
      none,
    ]);
    const b = await open('bits.e57', bits);
    expect(joined(b, (q) => q.x)).toEqual(Array<number>(8000).fill(2));
    expect(joined(b, (q) => q.z)).toEqual(Array<number>(8000).fill(3));
  });

  it('says that a packet is too short for its streams', async () => {
    const line = bytesOf([1, 2, 3], 32);
    const bytes = oneScan(['cartesianX', 'cartesianY', 'cartesianZ'].map(float).join(''), 3, [line, line, line]);
    // the first data packet stands behind the head of the section and an index packet
    new DataView(bytes.buffer).setUint16(48 + 32 + 16 + 2, 6, true);
    await expect(open('packet.e57', checkedAgain(bytes))).rejects.toMatchObject({
      code: 'e57-packet',
      message: expect.stringContaining('too short'),
      place: expect.stringContaining('96'),
    });
    expect(bytes.length % PAGE).toBe(0);
  });
});
