import { deflateSync } from 'node:zlib';
import { describe, expect, it } from 'vitest';
import { DEG, geoidOfGrid } from '@longheron/core/frames';
import { gtxHead, readGeoid } from '.';
import { textGridHead } from './textGrid';

const [ROWS, COLUMNS] = [5, 6];
/** A plane in latitude and longitude with a fold along a parabola: N = 40 + 0.2 r + 0.1 c + 0.01 c². */
const value = (r: number, c: number) => 40 + 0.2 * r + 0.1 * c + 0.01 * c * c;
const [SOUTH, WEST, STEP] = [56, 8, 0.05];

function gtx(): Uint8Array {
  const v = new DataView(new ArrayBuffer(40 + 4 * ROWS * COLUMNS));
  [SOUTH, WEST, STEP, STEP].forEach((x, k) => v.setFloat64(8 * k, x));
  v.setInt32(32, ROWS);
  v.setInt32(36, COLUMNS);
  for (let r = 0; r < ROWS; r++)
    for (let c = 0; c < COLUMNS; c++) v.setFloat32(40 + 4 * (r * COLUMNS + c), value(r, c));
  return new Uint8Array(v.buffer);
}

/**
 * A tiled, deflated, predicted GeoTIFF of the same grid, byte by byte after the standards.
 * @param more what other tags say than is so; all blocks have the one stream there is.
 */
function tiff(more: { [tag: number]: number[] } = {}, blocks = 1, also?: [number, number, number[]]): Uint8Array {
  const T = 16;
  const floats = new DataView(new ArrayBuffer(4 * T * T));
  for (let r = 0; r < ROWS; r++)
    for (let c = 0; c < COLUMNS; c++) floats.setFloat32(4 * (r * T + c), value(ROWS - 1 - r, c));
  // floating-point predictor: bytes by rank, big-endian first, then differences
  const predicted = new Uint8Array(4 * T * T);
  for (let r = 0; r < T; r++) {
    const row = new Uint8Array(4 * T);
    for (let c = 0; c < T; c++) for (let b = 0; b < 4; b++) row[b * T + c] = floats.getUint8(4 * (r * T + c) + b);
    for (let k = 4 * T - 1; k > 0; k--) row[k] = (row[k] - row[k - 1]) & 255;
    predicted.set(row, 4 * T * r);
  }
  const data = deflateSync(predicted);
  const tags: Array<[number, number, number[]]> = [
    ...([
      [256, 3, [COLUMNS]],
      [257, 3, [ROWS]],
      [258, 3, [32]],
      [259, 3, [8]],
      [277, 3, [1]],
    ] as never[]),
    ...([
      [317, 3, [3]],
      [322, 3, [T]],
      [323, 3, [T]],
      [324, 4, [0]],
      [325, 4, [data.length]],
      [339, 3, [3]],
    ] as never[]),
    [33550, 12, [STEP, STEP, 0]],
    [33922, 12, [0, 0, 0, WEST, SOUTH + (ROWS - 1) * STEP, 0]],
    [34735, 3, [1, 1, 0, 2, 1024, 0, 1, 2, 1025, 0, 1, 2]],
    ...(also ? [also] : []),
  ];
  tags.forEach((t) => {
    if (t[0] === 324 || t[0] === 325) t[2] = Array<number>(blocks).fill(t[2][0]);
    t[2] = more[t[0]] ?? t[2];
  });
  const size: Record<number, number> = { 2: 1, 3: 2, 4: 4, 12: 8 };
  const headLength = 8 + 2 + 12 * tags.length + 4;
  const extra = tags.map(([, type, v]) => (v.length * size[type] > 4 ? v.length * size[type] : 0));
  const total = headLength + extra.reduce((a, b) => a + b, 0) + data.length;
  const v = new DataView(new ArrayBuffer(total));
  v.setUint16(0, 0x4949);
  v.setUint16(2, 42, true);
  v.setUint32(4, 8, true);
  v.setUint16(8, tags.length, true);
  let at = headLength;
  const dataAt = total - data.length;
  tags.forEach(([tag, type, values], k) => {
    const e = 10 + 12 * k;
    v.setUint16(e, tag, true);
    v.setUint16(e + 2, type, true);
    v.setUint32(e + 4, values.length, true);
    const put = (where: number, x: number) =>
      type === 2
        ? v.setUint8(where, x)
        : type === 3
          ? v.setUint16(where, x, true)
          : type === 4
            ? v.setUint32(where, x, true)
            : v.setFloat64(where, x, true);
    const real = tag === 324 ? values.map(() => dataAt) : values;
    if (extra[k]) {
      v.setUint32(e + 8, at, true);
      real.forEach((x, i) => put(at + i * size[type], x));
      at += extra[k];
    } else real.forEach((x, i) => put(e + 8 + i * size[type], x));
  });
  const out = new Uint8Array(v.buffer);
  out.set(data, dataAt);
  return out;
}

/** The same as text: limits and steps, then values from the north-west to the south-east. */
function gri(west = WEST, change: (values: string[]) => string[] = (v) => v): Uint8Array {
  const values: string[] = [];
  for (let r = ROWS - 1; r >= 0; r--) for (let c = 0; c < COLUMNS; c++) values.push(value(r, c).toFixed(4));
  const [north, east] = [SOUTH + (ROWS - 1) * STEP, west + (COLUMNS - 1) * STEP];
  const head = [SOUTH, north, west, east, STEP, STEP].map((v) => v.toFixed(6)).join(' ');
  return new TextEncoder().encode(`${head}\n${change(values).join(' ')}\n`);
}

describe('a geoid grid', () => {
  it('as text runs from the north, may count longitudes to 360, and has holes', () => {
    const g = readGeoid(gri(), 'g.gri');
    expect([g.southDeg, g.westDeg, g.rows, g.columns]).toEqual([SOUTH, WEST, ROWS, COLUMNS]);
    expect(g.valuesM[2 * COLUMNS + 3]).toBeCloseTo(value(2, 3), 4);
    const west = readGeoid(gri(350), 'g.gri');
    expect(geoidOfGrid(west, 'g').undulation(56 * DEG, -9.9 * DEG)).toBeCloseTo(value(0, 2), 4);
    const holes = readGeoid(
      gri(WEST, (v) => ['9999.0', ...v.slice(1)]),
      'g.gri',
    );
    expect(holes.valuesM[(ROWS - 1) * COLUMNS]).toBeNaN();
    expect(() => geoidOfGrid(holes, 'g').undulation(56.2 * DEG, 8 * DEG)).toThrow(/no value/);
  });

  it('is not seen in a text of points', () => {
    for (const line of ['0.1 0.2 0.3 0.5 1 1', '467000.1 6215000.2 3.1 200 10 20', '55 56 8 9 0.3 0.3'])
      expect(textGridHead(`${line}\n`)).toBeUndefined();
    expect(textGridHead('55 56 8 9 0.25 0.5\n')).toBeDefined();
  });

  it('says its own accuracy and its rounding apart', () => {
    const text = readGeoid(gri(), 'g.gri');
    expect(text.roundingM).toBeCloseTo(0.00005, 12);
    expect(geoidOfGrid(text, 'g').statement).toMatch(/, rounded to ± 0\.05 mm$/);
    const metadata = [...'<GDALMetadata><Item name="accuracy">0.015</Item></GDALMetadata>\0'];
    const stated = readGeoid(tiff({}, 1, [42112, 2, metadata.map((c) => c.charCodeAt(0))]), 'g.tif');
    expect(stated.accuracyM).toBe(0.015);
    expect(geoidOfGrid(stated, 'g').statement).toMatch(/, accuracy ± 15 mm as stated$/);
  });

  it('is read by parabolas where it says so: exact on a parabola, to the edge', async () => {
    const metadata = [...'<GDALMetadata><Item name="interpolation_method">biquadratic</Item></GDALMetadata>\0'];
    const codes = metadata.map((c) => c.charCodeAt(0));
    const g = readGeoid(tiff({}, 1, [42112, 2, codes]), 'g.tif');
    expect(g.method).toBe('biquadratic');
    const at = (r: number, c: number) =>
      geoidOfGrid(g, 'g').undulation((SOUTH + r * STEP) * DEG, (WEST + c * STEP) * DEG);
    for (const [r, c] of [
      [0.5, 0.5],
      [1.7, 2.4],
      [3.9, 4.8],
    ])
      expect(at(r, c)).toBeCloseTo(value(r, c), 5);
  });

  it.each([
    ['GTX', gtx()],
    ['GeoTIFF', tiff()],
  ])('comes as %s', (_, bytes) => {
    const g = readGeoid(bytes, 'g');
    expect([g.rows, g.columns]).toEqual([ROWS, COLUMNS]);
    expect(g.southDeg).toBeCloseTo(SOUTH, 10);
    expect(g.valuesM[2 * COLUMNS + 3]).toBeCloseTo(value(2, 3), 5);
  });
  it('is read between its values: straight, and by a curve that follows a parabola', () => {
    const g = readGeoid(gtx(), 'g');
    const at = (method: 'bilinear' | 'bicubic', r: number, c: number) =>
      geoidOfGrid(g, 'g', method).undulation((SOUTH + r * STEP) * DEG, (WEST + c * STEP) * DEG);
    expect(at('bilinear', 1.25, 2)).toBeCloseTo(value(1.25, 2), 5);
    expect(at('bilinear', 1, 2.5)).toBeCloseTo((value(1, 2) + value(1, 3)) / 2, 5);
    expect(at('bicubic', 1.5, 2.5)).toBeCloseTo(value(1.5, 2.5), 5);
    // at the edge the curve lacks neighbours: the straight line stands in
    expect(at('bicubic', 0.5, 0.5)).toBeCloseTo((value(0.5, 0) + value(0.5, 1)) / 2, 5);
    expect(at('bilinear', 4, 5)).toBeCloseTo(value(4, 5), 5);
    expect(() => at('bilinear', 4.2, 2)).toThrow(/covers 56.000° to 56.200°/);
  });
  it('crosses the date line, and says where it has holes', () => {
    const g = { ...readGeoid(gtx(), 'g'), westDeg: 179.9 };
    expect(geoidOfGrid(g, 'g').undulation(56 * DEG, -179.95 * DEG)).toBeCloseTo(value(0, 3), 5);
    g.valuesM[3] = NaN;
    expect(() => geoidOfGrid(g, 'g').undulation(56 * DEG, -179.96 * DEG)).toThrow(/no value/);
  });
  it.each([
    ['cut off', gtx().slice(0, 60), /60 of 160 bytes/],
    ['cut off', tiff().slice(0, 300), /cut off|ends before/],
    ['that promises more than it holds', tiff({ 256: [60_000], 257: [3000] }), /more than a file of \d+ bytes/],
    ['whose blocks share one stream', tiff({ 256: [320], 257: [320] }, 400), /share their bytes/],
    ['with too few blocks', tiff({ 256: [320], 257: [320] }, 3), /3 blocks with 3 lengths, 400 are needed/],
    ['whose tiles cannot be', tiff({ 322: [0] }), /tiles are 0 by 16/],
    [
      'with damaged blocks',
      tiff().map((b, i, all) => (i > all.length - 60 ? b ^ 0x55 : b)),
      /Block 1 cannot be unpacked/,
    ],
    ['of wild values', gtx().map((b, i) => (i === 44 ? 0x50 : b)), /no undulation/],
    ['as text, cut off', gri().slice(0, 150), /holds \d+ of 30 values/],
    ['as text, with a word in it', gri(WEST, (v) => [...v.slice(0, 4), 'x', ...v.slice(5)]), /"x" is no number/],
    ['as text, with too many', gri(WEST, (v) => [...v, '40']), /more than the 30 values/],
    [
      'as text that promises more than it holds',
      new TextEncoder().encode('0 80 0 350 0.01 0.01\n40\n'),
      /8001 rows of 35001/,
    ],
    ['of another kind', new Uint8Array(100), /does not begin/],
  ])('%s is refused', (_, bytes, message) => {
    expect(() => readGeoid(bytes, 'g')).toThrow(message);
    expect(gtxHead(new Uint8Array(100), 100)).toBeUndefined();
  });
});
