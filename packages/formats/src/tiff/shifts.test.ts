import { deflateSync } from 'node:zlib';
import { describe, expect, it } from 'vitest';
import { DEG, GRS80, shiftByGrid } from '@longheron/core/frames';
import { lookAt } from '../format';
import { memorySource } from '../bytes';
import { formatId, recogniseLook } from '../registry';
import { readTiffShifts } from './shifts';

interface Part {
  south: number;
  west: number;
  rows: number;
  columns: number;
  step: number;
}
const COARSE: Part = { south: 50, west: 8, rows: 5, columns: 7, step: 0.5 };
const FINE: Part = { south: 51, west: 9, rows: 5, columns: 5, step: 0.125 };
/** Shifts in arc seconds that a straight line between values follows: to the north, and to the east. */
const north = (lat: number, lon: number) => -4 + 0.2 * (lat - 51) + 0.1 * (lon - 9);
const east = (lat: number, lon: number) => -3 - 0.3 * (lat - 51) + 0.15 * (lon - 9);

const METADATA = `<GDALMetadata><Item name="TYPE">HORIZONTAL_OFFSET</Item><Item name="target_crs_epsg_code">4258</Item>
<Item name="DESCRIPTION" sample="0" role="description">latitude_offset</Item><Item name="UNITTYPE" sample="0" role="unittype">arc-second</Item>
<Item name="DESCRIPTION" sample="1" role="description">longitude_offset</Item><Item name="UNITTYPE" sample="1" role="unittype">arc-second</Item>
<Item name="positive_value" sample="1">WAY</Item></GDALMetadata>`;

interface Made {
  /** Bands beside each other, or in blocks of their own. */
  planar?: 1 | 2;
  /** Deflated, with the floating-point predictor. */
  packed?: boolean;
  way?: 'east' | 'west';
  metadata?: string;
}

/** A GeoTIFF of two bands a part, directory after directory, byte by byte after the standards. */
function shiftTiff(parts: Part[], { planar = 1, packed = false, way = 'east', metadata }: Made = {}): Uint8Array {
  const pieces: Uint8Array[] = [];
  let length = 0;
  const put = (bytes: Uint8Array) => {
    const at = length;
    pieces.push(bytes);
    length += bytes.length;
    return at;
  };
  const head = new Uint8Array(8);
  put(head);
  let link = { in: head, at: 4 };
  parts.forEach((p, k) => {
    const sign = way === 'west' ? -1 : 1;
    const value = (r: number, c: number, band: number) => {
      const [lat, lon] = [p.south + (p.rows - 1 - r) * p.step, p.west + c * p.step];
      return band === 0 ? north(lat, lon) : sign * east(lat, lon);
    };
    const together = planar === 1 ? 2 : 1;
    const blocks = Array.from({ length: planar === 1 ? 1 : 2 }, (_, first) => {
      const wide = p.columns * together;
      const plain = new DataView(new ArrayBuffer(4 * wide * p.rows));
      for (let r = 0; r < p.rows; r++)
        for (let x = 0; x < wide; x++)
          plain.setFloat32(4 * (r * wide + x), value(r, Math.floor(x / together), first + (x % together)), !packed);
      if (!packed) return new Uint8Array(plain.buffer);
      const out = new Uint8Array(plain.byteLength);
      for (let r = 0; r < p.rows; r++) {
        const row = new Uint8Array(4 * wide);
        for (let x = 0; x < wide; x++)
          for (let b = 0; b < 4; b++) row[b * wide + x] = plain.getUint8(4 * (r * wide + x) + b);
        for (let i = row.length - 1; i >= together; i--) row[i] = (row[i] - row[i - together]) & 255;
        out.set(row, 4 * wide * r);
      }
      return Uint8Array.from(deflateSync(out));
    });
    const at = blocks.map(put);
    const text = `${(k === 0 ? (metadata ?? METADATA) : '<GDALMetadata></GDALMetadata>').replace('WAY', way)}\0`;
    const tags: Array<[tag: number, type: number, values: number[]]> = [
      [256, 4, [p.columns]],
      [257, 4, [p.rows]],
      [258, 3, [32, 32]],
      [259, 3, [packed ? 8 : 1]],
      [262, 3, [1]],
      [273, 4, at],
      [277, 3, [2]],
      [278, 4, [p.rows]],
      [279, 4, blocks.map((b) => b.length)],
      [284, 3, [planar]],
      [317, 3, [packed ? 3 : 1]],
      [338, 3, [0]],
      [339, 3, [3, 3]],
      [33550, 12, [p.step, p.step, 0]],
      [33922, 12, [0, 0, 0, p.west, p.south + (p.rows - 1) * p.step, 0]],
      [34735, 3, [1, 1, 0, 3, 1024, 0, 1, 2, 1025, 0, 1, 2, 2048, 0, 1, 4314]],
      [42112, 2, [...text].map((c) => c.charCodeAt(0))],
    ];
    const size: Record<number, number> = { 2: 1, 3: 2, 4: 4, 12: 8 };
    const write = (v: DataView, o: number, type: number, value: number) =>
      type === 2
        ? v.setUint8(o, value)
        : type === 3
          ? v.setUint16(o, value, true)
          : type === 4
            ? v.setUint32(o, value, true)
            : v.setFloat64(o, value, true);
    const entries = tags.map(([tag, type, values]) => {
      const bytes = values.length * size[type];
      const far = new DataView(new ArrayBuffer(Math.max(4, bytes + (bytes % 2))));
      values.forEach((value, i) => write(far, i * size[type], type, value));
      const packedBytes = new Uint8Array(far.buffer);
      return { tag, type, n: values.length, bytes: packedBytes, at: bytes > 4 ? put(packedBytes) : undefined };
    });
    if (length % 2) put(new Uint8Array(1));
    const ifd = new Uint8Array(2 + 12 * entries.length + 4);
    const v = new DataView(ifd.buffer);
    v.setUint16(0, entries.length, true);
    entries.forEach((e, i) => {
      v.setUint16(2 + 12 * i, e.tag, true);
      v.setUint16(4 + 12 * i, e.type, true);
      v.setUint32(6 + 12 * i, e.n, true);
      if (e.at === undefined) ifd.set(e.bytes.subarray(0, 4), 10 + 12 * i);
      else v.setUint32(10 + 12 * i, e.at, true);
    });
    const ifdAt = put(ifd);
    new DataView(link.in.buffer).setUint32(link.at, ifdAt, true);
    link = { in: ifd, at: ifd.length - 4 };
  });
  new DataView(head.buffer).setUint16(0, 0x4949);
  new DataView(head.buffer).setUint16(2, 42, true);
  return Buffer.concat(pieces);
}

const WAYS: Array<[string, Made]> = [
  ['beside each other', {}],
  ['beside each other, packed', { packed: true }],
  ['apart', { planar: 2 }],
  ['apart, packed', { planar: 2, packed: true }],
  ['counting longitudes to the west', { way: 'west' }],
];

describe('datum shifts in a GeoTIFF', () => {
  it.each(WAYS)('with bands %s follow the closed form, finer parts first', (_, made) => {
    const grid = readTiffShifts(shiftTiff([COARSE, FINE], made), 'shifts.tif');
    expect(grid.parts.map((p) => [p.rows, p.columns, p.stepLatDeg])).toEqual([
      [5, 7, 0.5],
      [5, 5, 0.125],
    ]);
    expect(grid.to).toBe('EPSG:4258');
    const shift = shiftByGrid(GRS80, grid, 'shifts.tif');
    const out = new Float64Array(3);
    for (const [lat, lon] of [
      [50.3, 8.2],
      [51.21, 9.33],
      [52, 11],
    ]) {
      shift.toFrame(lat * DEG, lon * DEG, 12, out);
      // values are kept with 32 bits: some 1e-7 of four seconds
      expect(Math.abs((out[0] / DEG - lat) * 3600 - north(lat, lon))).toBeLessThan(1e-6);
      expect(Math.abs((out[1] / DEG - lon) * 3600 - east(lat, lon))).toBeLessThan(1e-6);
      expect(out[2]).toBe(12);
    }
  });

  it('are recognised by what they say they hold', async () => {
    const of = async (bytes: Uint8Array) => {
      const found = await recogniseLook(await lookAt(memorySource(bytes, 'x.tif')));
      return found && formatId(found);
    };
    expect(await of(shiftTiff([COARSE]))).toBe('ntv2');
    expect(await of(shiftTiff([COARSE], { metadata: '<GDALMetadata></GDALMetadata>' }))).toBe('tiff');
  });

  it.each([
    ['of another type', { metadata: METADATA.replace('HORIZONTAL_OFFSET', 'VELOCITY') }, /a grid of velocity/],
    ['in another unit', { metadata: METADATA.replace('arc-second', 'metre') }, /offsets are in “metre”/],
    ['in degrees, too large', { metadata: METADATA.replace('arc-second', 'degree') }, /none between datums/],
  ])('%s are refused', (_, made, words) => {
    expect(() => readTiffShifts(shiftTiff([COARSE], made), 'shifts.tif')).toThrow(words);
  });

  it('cut off are refused', () => {
    expect(() => readTiffShifts(shiftTiff([COARSE, FINE]).subarray(0, 900), 'shifts.tif')).toThrow(
      /ends before its data do/,
    );
  });
});
