import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { parseSystem } from '@longheron/formats/crs';
import { crsCodesOf, LasFile, POINT_BYTES, systemRecords } from '@longheron/formats/las';
import { mergeClouds } from './merge';
import { reprojectCloud } from '../reproject/reproject';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'combine-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

interface Row {
  at: [number, number, number];
  cls?: number;
  strip?: number;
  time?: number;
  colour?: [number, number, number];
  /** As stored: returns and flags of the format. */
  bytes?: [number, number];
  extra?: number;
}

/** A small file of one format, byte by byte after the LAS specification. */
async function las(
  name: string,
  format: number,
  rows: Row[],
  more: { scale?: number; offset?: number[]; crs?: string; extra?: string; encoding?: number; wave?: number[] } = {},
): Promise<string> {
  const { scale = 0.001, offset = [467000, 6215000, 0], crs = 'EPSG:25832+5773' } = more;
  const base = POINT_BYTES[format];
  const step = base + (more.extra ? 2 : 0);
  const records = crs ? systemRecords(parseSystem(crs).definition, format) : [];
  if (more.extra) {
    const record = new Uint8Array(54 + 192);
    record.set(new TextEncoder().encode('LASF_Spec'), 2);
    new DataView(record.buffer).setUint16(18, 4, true);
    new DataView(record.buffer).setUint16(20, 192, true);
    record[54 + 2] = 3;
    record.set(new TextEncoder().encode(more.extra), 54 + 4);
    records.push(record);
  }
  const head = 375;
  const first = head + records.reduce((n, r) => n + r.length, 0);
  const out = new Uint8Array(first + rows.length * step);
  const view = new DataView(out.buffer);
  out.set(new TextEncoder().encode('LASF'), 0);
  view.setUint16(6, (more.encoding ?? 1) | (format >= 6 ? 16 : 0), true);
  [out[24], out[25], out[104]] = [1, 4, format];
  view.setUint16(94, head, true);
  view.setUint32(96, first, true);
  view.setUint32(100, records.length, true);
  view.setUint16(105, step, true);
  view.setUint32(107, format < 6 ? rows.length : 0, true);
  view.setBigUint64(247, BigInt(rows.length), true);
  for (let k = 0; k < 3; k++) {
    view.setFloat64(131 + 8 * k, scale, true);
    view.setFloat64(155 + 8 * k, offset[k], true);
    view.setFloat64(179 + 16 * k, Math.max(...rows.map((r) => r.at[k])), true);
    view.setFloat64(187 + 16 * k, Math.min(...rows.map((r) => r.at[k])), true);
  }
  let at = head;
  for (const r of records) {
    out.set(r, at);
    at += r.length;
  }
  const wide = format >= 6;
  rows.forEach((r, i) => {
    const o = first + i * step;
    r.at.forEach((v, k) => view.setInt32(o + 4 * k, Math.round((v - offset[k]) / scale), true));
    view.setUint16(o + 12, 100 + i, true);
    [out[o + 14], out[o + 15]] = r.bytes ?? (wide ? [0x11, 0] : [0x09, 0]);
    if (wide) out[o + 16] = r.cls ?? 0;
    else out[o + 15] |= r.cls ?? 0;
    view.setUint16(o + (wide ? 20 : 18), r.strip ?? 0, true);
    const timeAt = wide ? 22 : [0, 20, 0, 20, 20, 20][format];
    if (timeAt) view.setFloat64(o + timeAt, r.time ?? 0, true);
    const colourAt = ({ 2: 20, 3: 28, 5: 28, 7: 30, 8: 30 } as Record<number, number>)[format];
    if (colourAt) (r.colour ?? [0, 0, 0]).forEach((c, k) => view.setUint16(o + colourAt + 2 * k, c, true));
    if (more.wave) more.wave.forEach((d, k) => view.setFloat32(o + 45 + 4 * k, d, true));
    if (more.extra) view.setUint16(o + base, r.extra ?? 0, true);
  });
  const path = join(folder, name);
  await writeFile(path, out);
  return path;
}

async function read(path: string) {
  const file = await LasFile.openPath(path);
  const { header } = file;
  const points = await file.readAll();
  const place = (i: number) => [points.x, points.y, points.z].map((c, k) => c[i] * header.scale[k] + header.offset[k]);
  const records: Uint8Array[] = [];
  for await (const b of file.records())
    for (let i = 0; i < b.count; i++) records.push(b.bytes.slice(i * header.pointBytes, (i + 1) * header.pointBytes));
  await file.close();
  return { header, points, place, records };
}

describe('a cloud in another system', () => {
  // by cs2cs of PROJ 9; EPSG:3034 is listed there northing first
  const AT: [number, number, number] = [467123.456, 6215330.789, 12.5];
  it.each([
    ['EPSG:25833', [94041.75623, 6234430.80388]],
    ['EPSG:3034', [3907726.23687, 3240484.62485]],
  ])('comes out where PROJ puts it in %s', async (crs, expected) => {
    const from = await las('p.las', 6, [{ at: AT }, { at: [466000, 6214000, -3.25] }]);
    const out = join(folder, 'q.las');
    const { from: was, written } = await reprojectCloud(from, out, parseSystem(`${crs}+5773`));
    expect([was.label, written]).toEqual(['EPSG:25832+5773', 2]);
    const { header, place } = await read(out);
    expect(crsCodesOf(header)).toEqual({ horizontal: Number(crs.slice(5)), vertical: 5773 });
    const [e, n, h] = place(0);
    expect(Math.abs(e - expected[0])).toBeLessThan(0.0011);
    expect(Math.abs(n - expected[1])).toBeLessThan(0.0011);
    expect(h).toBeCloseTo(12.5, 3);
    expect(header.min[0]).toBeCloseTo(Math.min(place(0)[0], place(1)[0]), 9);
  });

  it('changes the height system alone by the undulation, and keeps everything else of a record', async () => {
    const from = await las('p.las', 7, [{ at: AT, cls: 2, strip: 7, time: 123.5, colour: [1, 2, 3], extra: 77 }], {
      extra: 'kept',
    });
    const out = join(folder, 'q.las');
    await reprojectCloud(from, out, parseSystem('EPSG:25832'));
    const [a, b] = [await read(from), await read(out)];
    expect(b.place(0)[0]).toBeCloseTo(AT[0], 3);
    // the geoid lies some forty metres above the ellipsoid there
    expect(b.place(0)[2] - AT[2]).toBeGreaterThan(38);
    expect(b.place(0)[2] - AT[2]).toBeLessThan(43);
    expect([...b.records[0].subarray(12)]).toEqual([...a.records[0].subarray(12)]);
    const back = join(folder, 'r.las');
    await reprojectCloud(out, back, parseSystem('EPSG:25832+5773'));
    expect((await read(back)).place(0)[2]).toBeCloseTo(AT[2], 3);
  });

  it('writes another unit with steps no coarser than they were', async () => {
    // UTM zone 10 in metres to California zone 1 in US survey feet, by cs2cs of PROJ 9
    const from = await las('p.las', 3, [{ at: [600000, 4400000, 30] }], {
      crs: 'EPSG:26910',
      offset: [600000, 4400000, 0],
    });
    const out = join(folder, 'q.las');
    await reprojectCloud(from, out, parseSystem('EPSG:2225'));
    const { header, place } = await read(out);
    expect(Math.abs(place(0)[0] - 6608674.28473)).toBeLessThan(0.002);
    expect(Math.abs(place(0)[1] - 1790086.61251)).toBeLessThan(0.002);
    expect(header.scale[0]).toBe(0.001);
    expect(crsCodesOf(header).horizontal).toBe(2225);
  });

  it('turns the direction of wave packets with the grid', async () => {
    const from = await las('w.las', 4, [{ at: AT }], { wave: [0.00015, 0, 0] });
    const out = join(folder, 'q.las');
    await reprojectCloud(from, out, parseSystem('EPSG:25833+5773'));
    const { records } = await read(out);
    const view = new DataView(records[0].buffer);
    const [dx, dy] = [view.getFloat32(45, true), view.getFloat32(49, true)];
    // zone 33 lies east: its grid north is turned by the difference of convergences, atan(tan Δλ sin φ)
    const convergence = (lonOff: number) =>
      Math.atan(Math.tan((lonOff * Math.PI) / 180) * Math.sin((56.08 * Math.PI) / 180));
    expect(Math.atan2(dy, dx)).toBeCloseTo(convergence(8.47 - 15) - convergence(8.47 - 9), 3);
    expect(Math.hypot(dx, dy)).toBeGreaterThan(0.00015);
  });

  it('refuses a cloud without a system, and one that says another than is stated', async () => {
    const bare = await las('b.las', 6, [{ at: AT }], { crs: '' });
    const out = join(folder, 'q.las');
    await expect(reprojectCloud(bare, out, parseSystem('EPSG:25833'))).rejects.toThrow('names no coordinate system');
    const { from } = await reprojectCloud(bare, out, parseSystem('EPSG:25833'), parseSystem('EPSG:25832'));
    expect(from.label).toBe('EPSG:25832');
    const told = await las('t.las', 6, [{ at: AT }]);
    await expect(reprojectCloud(told, out, parseSystem('EPSG:25833'), parseSystem('EPSG:25831'))).rejects.toThrow(
      'was stated',
    );
  });
});

describe('clouds as one', () => {
  it('keeps what each holds, in the format that holds all, and strips apart', async () => {
    const a = await las('a.las', 1, [
      // third of four returns, withheld and synthetic, at the edge of the scan
      { at: [467010, 6215010, 1], strip: 1, time: 10, cls: 12, bytes: [3 | (4 << 3) | 0x80, 0xa0] },
      { at: [467011, 6215011, 2], strip: 2, time: 11, cls: 6 },
    ]);
    const b = await las(
      'b.las',
      7,
      [{ at: [467020.1234, 6215020, 3], strip: 2, time: 20, cls: 17, colour: [9, 8, 7], extra: 55 }],
      {
        scale: 0.0001,
        offset: [467000, 6215500, 0],
        extra: 'range',
      },
    );
    const out = join(folder, 'm.las');
    const made = await mergeClouds(
      [
        { path: a, name: 'a' },
        { path: b, name: 'b' },
      ],
      out,
      new Date(0),
      'apart',
    );
    expect(made).toMatchObject({ written: 3, pointFormat: 7, stripsMovedBy: [0, 2], points: [2, 1], lost: [] });
    const { header, points, place, records } = await read(out);
    expect(crsCodesOf(header)).toEqual({ horizontal: 25832, vertical: 5773 });
    expect([...points.pointSourceId]).toEqual([1, 2, 4]);
    expect([...points.gpsTime]).toEqual([10, 11, 20]);
    expect([...points.classification]).toEqual([1, 6, 17]);
    // synthetic and withheld stay, the old class of overlap has become its flag
    expect([points.flags[0], points.returnNumber[0], points.returnCount[0]]).toEqual([1 | 4 | 8, 3, 4]);
    expect(records[0][15] & 0xc0).toBe(0x80);
    expect([...points.red!, ...points.green!, ...points.blue!]).toEqual([0, 0, 9, 0, 0, 8, 0, 0, 7]);
    expect(records.map((r) => new DataView(r.buffer).getUint16(36, true))).toEqual([0, 0, 55]);
    expect(place(0).map((v) => Number(v.toFixed(4)))).toEqual([467010, 6215010, 1]);
    expect(place(2).map((v) => Number(v.toFixed(4)))).toEqual([467020.1234, 6215020, 3]);
    expect(header.max[0]).toBeCloseTo(467020.1234, 6);
  });

  it('tells strips that go on in another tile from those of another session', async () => {
    const at: [number, number, number] = [467010, 6215010, 1];
    const tile = await las('t1.las', 6, [
      { at, strip: 1, time: 100 },
      { at, strip: 2, time: 500 },
    ]);
    const next = await las('t2.las', 6, [
      { at, strip: 1, time: 104 },
      { at, strip: 2, time: 520 },
    ]);
    const session = await las('t3.las', 6, [{ at, strip: 2, time: 90_000 }]);
    const inputs = [tile, next, session].map((path) => ({ path, name: path }));
    const out = join(folder, 'm.las');
    const moves = async (strips?: 'same' | 'apart' | 'by time') =>
      (await mergeClouds(inputs, out, new Date(0), strips)).stripsMovedBy;
    expect(await moves()).toEqual([0, 0, 2]);
    expect([...(await read(out)).points.pointSourceId]).toEqual([1, 2, 1, 2, 4]);
    expect(await moves('same')).toEqual([0, 0, 0]);
    expect(await moves('apart')).toEqual([0, 2, 4]);
  });

  it('says what it cannot carry, and refuses what cannot be one', async () => {
    const a = await las('a.las', 6, [{ at: [467010, 6215010, 1] }]);
    const feet = await las('f.las', 6, [{ at: [467010, 6215010, 1] }], { crs: 'EPSG:25833+5773' });
    const weeks = await las('k.las', 6, [{ at: [467010, 6215010, 1] }], { encoding: 0 });
    const wave = await las('w.las', 4, [{ at: [467010, 6215010, 1] }]);
    const out = join(folder, 'm.las');
    const both = (p: string) =>
      mergeClouds(
        [
          { path: a, name: 'a' },
          { path: p, name: 'other' },
        ],
        out,
        new Date(0),
      );
    await expect(both(feet)).rejects.toMatchObject({ code: 'merge-systems', file: 'other' });
    await expect(both(weeks)).rejects.toMatchObject({ code: 'merge-times', file: 'other' });
    expect((await both(wave)).lost).toEqual(['wave packets']);
  });
});
