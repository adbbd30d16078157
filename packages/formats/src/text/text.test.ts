import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { LasFile, writeFromPoints } from '../las';
import { openPly, writePly } from '../ply';
import { type PointSource } from '../points';
import { guessColumns, layoutOf, openXyz, writeXyz } from '.';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'xyz-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

async function put(name: string, text: string | Uint8Array): Promise<string> {
  await writeFile(join(folder, name), text);
  return join(folder, name);
}
async function first(source: PointSource) {
  const out = [];
  for await (const b of source.batches()) out.push(b);
  await source.close();
  return out[0];
}

describe('points as text', () => {
  it('tells the layout and what the columns hold', () => {
    const guess = (text: string) => {
      const layout = layoutOf(text.split('\n'));
      return layout && { ...guessColumns(layout), delimiter: layout.delimiter, comma: layout.decimalComma };
    };
    expect(guess('1 2 3\n4 5 6')).toEqual({ x: 0, y: 1, z: 2, delimiter: ' ', comma: false });
    expect(guess('2\n1.5;2;3;900\n4;5;6;12')).toMatchObject({ x: 0, intensity: 3, delimiter: ';' });
    expect(guess('1,5;2,5;3,5\n4,5;5;6')).toMatchObject({ delimiter: ';', comma: true });
    expect(guess('1 2 3 10 20 30\n4 5 6 255 0 1')).toMatchObject({ red: 3, green: 4, blue: 5 });
    expect(guess('1 2 3 0.5 10 20 30\n4 5 6 0.25 255 0 1')).toMatchObject({ intensity: 3, red: 4 });
    expect(guess('Northing,Easting,Height,class\n1,2,3,2\n4,5,6,6')).toMatchObject({
      x: 1,
      y: 0,
      z: 2,
      classification: 3,
    });
    expect(guess('P1 1 2 3\nP2 4 5 6')).toBeUndefined();
    expect(guess('1 2\n3 4')).toBeUndefined();
  });

  it('names the line that is no point, and columns that do not exist', async () => {
    const path = await put('bad.xyz', '1 2 3\n4 5 6\n# note\n7 8\n');
    await expect(openXyz(path)).rejects.toMatchObject({ code: 'xyz-layout' });
    const long = `${'1 2 3\n'.repeat(20000)}1 2 x\n`;
    await expect(first(await openXyz(await put('late.xyz', long)))).rejects.toMatchObject({
      code: 'xyz-line',
      place: 'line 20001',
    });
    await expect(openXyz(await put('ok.xyz', '1 2 3\n4 5 6'), undefined, { x: 0, y: 1, z: 3 })).rejects.toMatchObject({
      code: 'xyz-columns',
    });
  });

  it('goes to LAS and back without a digit lost', async () => {
    const lines = Array.from(
      { length: 300 },
      (_, k) =>
        `${(467000 + k * 0.0123).toFixed(4)} ${(6215000 - k * 0.5).toFixed(4)} ${(k / 7).toFixed(4)} ${k} 10 20 ${k % 256}`,
    );
    const source = await openXyz(await put('rgb.txt', lines.join('\r\n')));
    expect(source.fields).toMatchObject({ intensity: true, colour: true, time: false });
    const las = join(folder, 'rgb.las');
    expect(await writeFromPoints(source, source.batches(), las, undefined, new Date(0))).toEqual({
      written: 300,
      left: 0,
    });
    const file = await LasFile.openPath(las);
    expect([file.header.pointFormat, file.header.pointCount]).toEqual([7, 300]);
    expect(file.header.max[0]).toBeCloseTo(467000 + 299 * 0.0123, 6);
    const out = join(folder, 'back.csv');
    await writeXyz({ file, keep: new Uint8Array(300).fill(1), crs: 'EPSG:25832+5773' }, out);
    const again = await openXyz(out);
    expect(again.system).toBe('EPSG:25832+5773');
    expect(again.lost).toEqual([]);
    const b = await first(again);
    for (const k of [0, 17, 299]) {
      const [x, y, z, , , , blue] = lines[k].split(' ').map(Number);
      expect([b.x[k], b.y[k], b.z[k], b.colour![2][k] >> 8]).toEqual([x, y, z, blue]);
      // 299 is more than 255, so 12 bits are taken for full
      expect(b.intensity![k]).toBe(Math.round((k / 4095) * 65535));
    }
  });
});

describe('PLY', () => {
  const big = (rows: number[][]) => {
    const head = new TextEncoder().encode(
      `ply\nformat binary_big_endian 1.0\ncomment shift: 1000 2000 0\nelement vertex ${rows.length}\nproperty float x\nproperty double y\nproperty short z\nproperty uchar red\nproperty uchar green\nproperty uchar blue\nproperty float curvature\nelement face 1\nproperty list uchar int vertex_indices\nend_header\n`,
    );
    const out = new Uint8Array(head.length + rows.length * 21);
    const view = new DataView(out.buffer);
    out.set(head);
    rows.forEach(([x, y, z, r, g, b], k) => {
      const o = head.length + 21 * k;
      view.setFloat32(o, x);
      view.setFloat64(o + 4, y);
      view.setInt16(o + 12, z);
      out.set([r, g, b], o + 14);
    });
    return out;
  };

  it('reads binary of either order and text; what is not carried over is named', async () => {
    const source = await openPly(await put('big.ply', big([[1.5, 2.25, -3, 255, 0, 128]])));
    expect(source.lost).toEqual(['the property "curvature"', 'the element face (1)']);
    const b = await first(source);
    expect([b.x[0], b.y[0], b.z[0], ...b.colour!.map((c) => c[0])]).toEqual([1001.5, 2002.25, -3, 65535, 0, 32896]);
    const text = await openPly(
      await put(
        'a.ply',
        'ply\r\nformat ascii 1.0\r\nelement vertex 2\r\nproperty float x\r\nproperty float y\r\nproperty float z\r\nproperty float intensity\r\nend_header\r\n1 2 3 0.5\r\n4 5 6 1\r\n',
      ),
    );
    const t = await first(text);
    expect([t.count, t.z[1], t.intensity![0]]).toEqual([2, 6, 32768]);
  });

  it('says where it was cut off', async () => {
    const bytes = big([
      [1, 2, 3, 4, 5, 6],
      [1, 2, 3, 4, 5, 6],
    ]);
    await expect(openPly(await put('cut.ply', bytes.subarray(0, bytes.length - 5)))).rejects.toMatchObject({
      code: 'file-truncated',
    });
    const lines =
      'ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\nend_header\n1 2 3\n4 5\n';
    await expect(first(await openPly(await put('line.ply', lines)))).rejects.toMatchObject({
      code: 'ply-line',
      place: 'line 2 after the header',
    });
  });

  it('is written with a shift that keeps every digit', async () => {
    const lines = Array.from({ length: 50 }, (_, k) => `${467123.4567 + k} ${6215987.6543 - k} ${k / 8}`);
    const source = await openXyz(await put('p.xyz', lines.join('\n')));
    const las = join(folder, 'p.las');
    await writeFromPoints(source, source.batches(), las, undefined, new Date(0));
    for (const form of ['binary', 'text'] as const) {
      const path = join(folder, `${form}.ply`);
      const keep = new Uint8Array(50).fill(1);
      keep[0] = 0;
      const file = await LasFile.openPath(las);
      expect((await writePly({ file, keep, crs: 'EPSG:25832' }, path, form)).written).toBe(49);
      const again = await openPly(path);
      expect(again.system).toBe('EPSG:25832');
      const b = await first(again);
      expect(b.x[5]).toBeCloseTo(467123.4567 + 6, 4);
      expect(b.y[5]).toBeCloseTo(6215987.6543 - 6, 4);
      expect(b.z[5]).toBe(0.75);
    }
  });
});
