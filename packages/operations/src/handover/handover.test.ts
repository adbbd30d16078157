import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { cellsOf, OnFiles, trajectoryText } from '../test/onFiles';

/** Length of the meridian of GRS 80 from the equator to 45°, metres, as published. */
const ARC_45_M = 4_984_944.378;
const UTM_SCALE = 0.9996;

/** A grid of one undulation everywhere, in the layout of docs/formats/geoid.md. */
function gtx(undulationM: number): Uint8Array {
  const [rows, columns] = [3, 3];
  const out = Buffer.alloc(40 + 4 * rows * columns);
  [44, 8, 1, 1].forEach((v, k) => out.writeDoubleBE(v, 8 * k));
  out.writeInt32BE(rows, 32);
  out.writeInt32BE(columns, 36);
  for (let i = 0; i < rows * columns; i++) out.writeFloatBE(undulationM, 40 + 4 * i);
  return out;
}

let files: OnFiles;
let path: string;
beforeAll(async () => {
  files = await OnFiles.create();
  // ten rows a second on the central meridian, the last over the end of a week
  const rows = Array.from({ length: 21 }, (_, k) => ({ sow: 604_798 + k / 10, latDeg: 45, lonDeg: 9, hM: 100 + k }));
  path = await files.put('t.csv', trajectoryText(rows));
});
afterAll(() => files.remove());

describe('a trajectory for somebody else', () => {
  it('has the plan of the meridian, heights as they were, and says which they are', async () => {
    const { content, text } = await files.run(
      'handover',
      { trajectory: [path] },
      { heights: 'ellipsoidal' },
      { crs: 'EPSG:25832' },
    );
    const written = await text('trajectory');
    expect(written.split('\n').slice(0, 5)).toEqual([
      '# crs: EPSG:25832',
      '# heights: above the ellipsoid',
      '# epoch: 2026.5',
      '# point: imu',
      '# heading: from true north',
    ]);
    const [header, ...rows] = cellsOf(written);
    expect(header.slice(0, 5)).toEqual(['gps_week', 'gps_sow', 'easting_m', 'northing_m', 'h_ell_m']);
    expect(rows).toHaveLength(21);
    const [e, n, h] = rows[3].slice(2, 5).map(Number);
    expect(e).toBeCloseTo(500_000, 4);
    expect(n).toBeCloseTo(UTM_SCALE * ARC_45_M, 2);
    expect(h).toBe(103);
    // the week goes on by itself
    expect(rows.at(-1)!.slice(0, 2)).toEqual(['2424', '0.000000']);
    expect(content).toMatchObject({ rows: 21, plan: 'grid', kindOfHeight: 'ellipsoidal', undulationM: 0 });
  });

  it('has ellipsoidal heights in a system that names no others', async () => {
    const { text } = await files.run('handover', { trajectory: [path] }, {}, { crs: 'EPSG:25832' });
    const written = await text('trajectory');
    expect(written).toMatch(/^# heights: above the ellipsoid$/m);
    const [header, ...rows] = cellsOf(written);
    expect([header[4], rows[3][4]]).toEqual(['h_ell_m', '103.0000']);
  });

  it('has latitude and longitude, fewer rows, and heights above a grid', async () => {
    const geoid = await files.put('g.gtx', gtx(40.25));
    const { text } = await files.run(
      'handover',
      { trajectory: [path], geoid: [geoid] },
      { plan: 'geographic', heights: 'geoid', rateHz: 1 },
      { crs: 'EPSG:25832' },
    );
    const [header, ...rows] = cellsOf(await text('trajectory'));
    expect(header.slice(2, 5)).toEqual(['lat_deg', 'lon_deg', 'height_m']);
    expect(rows.map((r) => [r[1], Number(r[2]), Number(r[3]), Number(r[4])])).toEqual([
      ['604798.000000', 45, 9, 100 - 40.25],
      ['604799.000000', 45, 9, 110 - 40.25],
      ['0.000000', 45, 9, 120 - 40.25],
    ]);
    expect(await text('trajectory')).toMatch(/^# heights: .*g\.gtx/m);
  });

  it('is refused where its heights cannot be had', async () => {
    const run = (settings: object, crs: string) =>
      files.run('handover', { trajectory: [path] }, { ...settings }, { crs });
    await expect(run({ heights: 'geoid' }, 'EPSG:25832')).rejects.toMatchObject({ code: 'handover-geoid' });
    await expect(run({ rateHz: 0 }, 'EPSG:25832')).rejects.toThrow(/rateHz/);
  });
});
