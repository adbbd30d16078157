import { mkdtemp, readFile, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from 'vitest';
import { memorySource, writeFileWhole } from '../bytes';
import { systemDefinition, wktOfSystem } from '../crs';
import { crsCodesOf, decodeExtra, LasFile, LasWriter, rewriteClasses, wktOf } from '.';

let folder: string;
let path: string;
const N = 1000;

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'las-'));
  path = join(folder, 'a.las');
  const range = (f: (i: number) => number) => Float64Array.from({ length: N }, (_, i) => f(i));
  await writeFileWhole(path, async (out) => {
    const w = await LasWriter.create(
      out,
      wktOfSystem(systemDefinition(25832, 5773)),
      [467000, 6215000, 0],
      new Date('2026-06-16T12:00:00Z'),
    );
    await w.append({
      easting: range((i) => (i === 7 ? Number.NaN : 467100 + i * 0.01234)),
      northing: range((i) => 6215100 + i * 0.02),
      height: range((i) => 3 + i * 0.001),
      intensity: Uint16Array.from({ length: N }, (_, i) => i),
      returnNumber: new Uint8Array(N).fill(1),
      returnCount: new Uint8Array(N).fill(2),
      scannerChannel: 1,
      strip: new Uint16Array(N).fill(3),
      gpsS: range((i) => 2423 * 604800 + 205200 + i * 0.001),
      sdE: new Float32Array(N).fill(0.0123),
      sdN: new Float32Array(N).fill(0.01),
      sdH: new Float32Array(N).fill(99),
    });
    await w.finish();
  });
});

describe('LAS as written', () => {
  it('reads back with every attribute; points that are not numbers are left out', async () => {
    const file = await LasFile.openPath(path);
    const { header } = file;
    expect(header.version).toEqual([1, 4]);
    expect(header.pointFormat).toBe(6);
    expect(header.pointBytes).toBe(36);
    expect(header.pointCount).toBe(N - 1);
    expect(header.globalEncoding).toBe(17);
    expect(crsCodesOf(header)).toEqual({ horizontal: 25832, vertical: 5773 });
    expect(wktOf(header)).toMatch(/^COMPD_CS\["ETRS89 \/ UTM zone 32N \+ EGM96 height",PROJCS\[.*VERT_CS\[/);
    const p = await file.readAll();
    expect(p.x[6] * header.scale[0] + header.offset[0]).toBeCloseTo(467100 + 6 * 0.01234, 4);
    expect(p.x[7] * header.scale[0] + header.offset[0]).toBeCloseTo(467100 + 8 * 0.01234, 4);
    expect([p.returnNumber[0], p.returnCount[0], p.scannerChannel[0], p.pointSourceId[0], p.intensity[500]]).toEqual([
      1, 2, 1, 3, 501,
    ]);
    expect(p.gpsTime[0]).toBeCloseTo(2423 * 604800 + 205200 - 1e9, 6);
    expect(header.max[2]).toBeCloseTo(3.999, 6);
    const dims = file.extraDimensions();
    expect(dims.map((d) => d.name)).toEqual(['sd_e', 'sd_n', 'sd_h']);
    for await (const batch of file.records()) {
      const out = new Float32Array(batch.count);
      decodeExtra(header, batch.bytes, batch.count, dims[0], out, 0);
      expect(out[0]).toBeCloseTo(0.0123, 6);
      decodeExtra(header, batch.bytes, batch.count, dims[2], out, 0);
      expect(out[0]).toBeCloseTo(6.5535, 4); // the largest that fits
    }
    await file.close();
  });

  it('keeps every other byte when classes change', async () => {
    const file = await LasFile.openPath(path);
    const out = join(folder, 'b.las');
    const classes = new Uint8Array(N - 1).fill(2);
    const withheld = new Uint8Array(N - 1);
    withheld[5] = 1;
    await rewriteClasses(file, out, classes, withheld);
    const a = await readFile(path),
      b = await readFile(out);
    expect(b.length).toBe(a.length);
    let changed = 0;
    for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) changed++;
    expect(changed).toBe(N - 1 + 1);
    await file.close();
  });
});

describe('damaged files', () => {
  const open = async (bytes: Uint8Array) => (await LasFile.open(memorySource(bytes, 'bad.las'))).readAll();
  const patched = async (change: (view: DataView, bytes: Uint8Array) => void) => {
    const bytes = new Uint8Array(await readFile(path));
    change(new DataView(bytes.buffer), bytes);
    return open(bytes);
  };
  it('are refused with the place', async () => {
    const bytes = new Uint8Array(await readFile(path));
    await expect(open(bytes.subarray(0, 100))).rejects.toThrow(/at least 227/);
    await expect(open(bytes.subarray(0, bytes.length - 500))).rejects.toMatchObject({
      code: 'las-count',
      file: 'bad.las',
    });
    await expect(patched((v) => v.setBigUint64(247, 300000000n, true))).rejects.toThrow(/declares 300000000 points/);
    await expect(patched((v) => v.setUint32(96, 0xffffff, true))).rejects.toThrow(/begin at byte/);
    await expect(patched((_, b) => (b[104] = 42))).rejects.toThrow(/format 42/);
    await expect(patched((v) => v.setUint16(105, 5, true))).rejects.toThrow(/5 bytes a point/);
    for (const scale of [Number.NaN, 0, 1e300, 1e-300])
      await expect(patched((v) => v.setFloat64(131, scale, true))).rejects.toThrow(/scale/);
    await expect(patched((v) => v.setUint32(100, 4000, true))).rejects.toThrow(/record/);
    await expect(patched((_, b) => (b[104] = 0x86))).rejects.toMatchObject({ code: 'laz-record' });
    await expect(patched((_, b) => (b[25] = 9))).rejects.toThrow(/version/);
    await writeFile(join(folder, 'empty.las'), '');
    await expect(LasFile.openPath(join(folder, 'none.las'))).rejects.toMatchObject({ code: 'file-open' });
  });
});
