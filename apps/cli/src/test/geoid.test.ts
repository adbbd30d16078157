import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { parseSystem } from '@longheron/formats/crs';
import { bench, type Bench } from './longheron';

const [SOUTH, WEST, STEP, ROWS, COLUMNS] = [55.9, 8.7, 0.05, 9, 13];
/** A GTX grid whose undulation is a plane: 40 m at 56° N, 9° E, 0.3 m a degree up to the north. */
function gtx(up: number): Uint8Array {
  const v = new DataView(new ArrayBuffer(40 + 4 * ROWS * COLUMNS));
  [SOUTH, WEST, STEP, STEP].forEach((x, k) => v.setFloat64(8 * k, x));
  v.setInt32(32, ROWS);
  v.setInt32(36, COLUMNS);
  for (let r = 0; r < ROWS; r++)
    for (let c = 0; c < COLUMNS; c++) v.setFloat32(40 + 4 * (r * COLUMNS + c), 40 + up + 0.3 * (SOUTH + r * STEP - 56));
  return new Uint8Array(v.buffer);
}

let b: Bench;
beforeAll(() => {
  b = bench();
  writeFileSync(join(b.folder, 'land.gtx'), gtx(0));
  writeFileSync(join(b.folder, 'other.gtx'), gtx(0.5));
  // on the central meridian of the zone, where 6 206 900 m north is 56.0046° (the meridian's arc times 0.9996)
  b.write('p.xyz', '500000 6206900 3\n500010 6206900 4\n');
});
afterAll(() => b.clear());
const text = (file: string) => {
  expect(b.run('convert', '--in', file, '--out', 'out.csv').code).toBe(0);
  return b
    .read('out.csv')
    .split('\n')
    .filter((l) => /^5000/.test(l))
    .map((l) => l.split(',').map(Number));
};

describe('heights above a geoid grid', () => {
  it('are named in the file, and carried to the ellipsoid by that grid', () => {
    const made = b.run('convert', '--in', 'p.xyz', '--crs', 'EPSG:25832', '--geoid', 'land.gtx', '--out', 'p.las');
    expect([made.code, made.err]).toEqual([0, '']);
    expect(made.report).toMatchObject({ crs: expect.stringMatching(/^EPSG:25832\+land\.gtx@[0-9a-f]{12}$/) });
    const carried = b.run(
      'reproject',
      '--in',
      'p.las',
      '--to',
      'EPSG:25832+0',
      '--geoid',
      'land.gtx',
      '--out',
      'a.las',
    );
    expect([carried.code, carried.err]).toEqual([
      0,
      expect.stringMatching(/^info: .*land\.gtx, bilinear, steps of 3\.00′.* to ellipsoidal heights/),
    ]);
    const geo = new Float64Array(3);
    parseSystem('EPSG:25832').unproject(500000, 6206900, 0, geo);
    const undulation = 40 + 0.3 * ((geo[0] * 180) / Math.PI - 56);
    const heights = text('a.las').map((r) => r[2]);
    expect(heights[0]).toBeCloseTo(3 + undulation, 3);
    expect(heights[1]).toBeCloseTo(4 + undulation, 3);
    expect(parseSystem(String(carried.report.crs)).label).toBe('EPSG:25832');
  });

  it('from one grid to the other they move by the difference of the two', () => {
    const to = ['--in', 'p.las', '--to', 'EPSG:25832', '--geoid'];
    const moved = b.run('reproject', ...to, 'other.gtx,land.gtx', '--out', 'b.las');
    expect(moved.code).toBe(0);
    expect(text('b.las').map((r) => r[2])).toEqual([2.5, 3.5]);
    // a grid that a file names, and nobody has given
    const lacking = b.run('reproject', ...to, 'other.gtx', '--out', 'c.las');
    expect(lacking.code).toBe(2);
    expect(lacking.err).toMatch(/geoid grid land\.gtx, which is not here\. Give it with --geoid/);
  });

  it('are refused where the grid says nothing, is none, or heights are named twice', () => {
    b.write('far.xyz', '500000 5000000 3\n500001 5000000 3\n');
    b.run('convert', '--in', 'far.xyz', '--crs', 'EPSG:25832', '--geoid', 'land.gtx', '--out', 'far.las');
    const far = b.run('reproject', '--in', 'far.las', '--to', 'EPSG:25833', '--geoid', 'land.gtx', '--out', 'd.las');
    expect([far.code, far.err]).toEqual([
      2,
      expect.stringMatching(/no value at 45\.\d+°.*covers 55\.900° to 56\.300°/),
    ]);
    const none = b.run('convert', '--in', 'p.xyz', '--crs', 'EPSG:25832', '--geoid', 'p.xyz', '--out', 'd.las');
    expect([none.code, none.err]).toEqual([2, expect.stringMatching(/does not begin as a GTX grid/)]);
    const twice = b.run(
      'convert',
      '--in',
      'p.xyz',
      '--crs',
      'EPSG:25832+5773',
      '--geoid',
      'land.gtx',
      '--out',
      'd.las',
    );
    expect([twice.code, twice.err]).toEqual([
      2,
      expect.stringMatching(/names heights already.*--crs EPSG:25832 --geoid/),
    ]);
  });
});
