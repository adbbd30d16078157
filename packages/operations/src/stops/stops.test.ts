import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { cellsOf, OnFiles, trajectoryText } from '../test/onFiles';

/** Metres of a degree along the meridian of GRS 80 at 45°. */
const DEGREE_M = 111_132.95;
const UTM_SCALE = 0.9996;

let files: OnFiles;
let path: string;
beforeAll(async () => {
  files = await OnFiles.create();
  // stands 30 s at 45°, walks 20 m north in 20 s, stands 30 s; antenna 1.8 m above 50 m
  const at = (sow: number) => (sow <= 30 ? 0 : sow <= 50 ? sow - 30 : 20);
  const rows = Array.from({ length: 81 }, (_, k) => ({
    sow: 1000 + k,
    latDeg: 45 + at(k) / DEGREE_M,
    lonDeg: 9,
    hM: 51.8,
  }));
  path = await files.put('pole.csv', trajectoryText(rows, '# crs: EPSG:4937\n# point: antenna\n'));
});
afterAll(() => files.remove());
const CRS = { crs: 'EPSG:25832' };

describe('marks of stops', () => {
  it('are found where the antenna stood, below it', async () => {
    const { content, text } = await files.run('stops', { trajectory: [path] }, { antennaHeightM: 1.8 }, CRS);
    const [header, ...rows] = cellsOf(await text('marks'));
    expect(header.slice(0, 5)).toEqual(['name', 'role', 'easting_m', 'northing_m', 'height_m']);
    expect(rows).toHaveLength(2);
    const [a, b] = rows.map((r) => r.slice(2, 5).map(Number));
    expect([a[0], b[0]]).toEqual([500_000, 500_000]);
    expect(b[1] - a[1]).toBeCloseTo(20 * UTM_SCALE, 3);
    expect([a[2], b[2]]).toEqual([50, 50]);
    expect(content.stops!.map((s) => [s.solution, s.near])).toEqual([
      ['fixed', null],
      ['fixed', null],
    ]);
  });

  it('are named by a list, with its own antenna heights, and compared with what is known', async () => {
    const list = 'name,gps_week,start_sow,end_sow,antenna_height_m\nA,2423,1002,1028,1.8\nB,2423,1052,1078,1.75\n';
    const occupations = [await files.put('list.csv', list)];
    const found = await files.run('stops', { trajectory: [path], occupations }, {}, CRS);
    const [a, b] = found.content.marks!;
    expect([a.name, a.heightM, b.name, b.heightM]).toEqual(['A', expect.closeTo(50, 4), 'B', expect.closeTo(50.05, 4)]);
    const known = [
      await files.put(
        'known.csv',
        `name,role,easting_m,northing_m,height_m\nK,control,${a.eastingM + 0.1},${a.northingM},50\n`,
      ),
    ];
    const { content, notices } = await files.run('stops', { trajectory: [path], occupations, known }, {}, CRS);
    expect(content.stops![0].near).toMatchObject({
      name: 'K',
      differenceM: [expect.closeTo(-0.1, 4), 0, expect.closeTo(0, 4)],
    });
    expect(content.stops![1].near).toBeNull();
    expect(notices).toMatchObject([{ code: 'stops-differs', place: 'A', text: expect.stringContaining('easting') }]);
  });

  it('are none where nothing stood long enough', async () => {
    await expect(files.run('stops', { trajectory: [path] }, { shortestS: 60 }, CRS)).rejects.toMatchObject({
      code: 'stops-none',
      file: 'pole.csv',
    });
  });
});
