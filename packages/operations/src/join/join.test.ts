import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { cellsOf, OnFiles, trajectoryText } from '../test/onFiles';

let files: OnFiles;
beforeAll(async () => {
  files = await OnFiles.create();
});
afterAll(() => files.remove());

/** One row a second from one second to another at a height. */
const session = (from: number, to: number, hM: number, head?: string) => {
  const rows = Array.from({ length: to - from + 1 }, (_, k) => ({ sow: from + k, latDeg: 56, lonDeg: 9, hM }));
  return trajectoryText(rows, head);
};
const joined = async (...texts: string[]) => {
  const parts = await Promise.all(texts.map((t, k) => files.put(`s${k}.csv`, t)));
  return files.run('join', { parts });
};

describe('sessions joined', () => {
  it('are cut in the middle of their overlap, and said to be apart when they are', async () => {
    const { content, notices, text } = await joined(session(0, 100, 40), session(80, 200, 40.25));
    const rows = cellsOf(await text('trajectory')).slice(1);
    expect(rows).toHaveLength(201);
    const heights = rows.map((r) => Number(r[4]));
    const jump = heights.findIndex((h) => h > 40.1);
    expect(Number(rows[jump][1])).toBeGreaterThanOrEqual(89);
    expect(Number(rows[jump][1])).toBeLessThanOrEqual(91);
    expect(heights.slice(0, jump).every((h) => h === 40) && heights.slice(jump).every((h) => h === 40.25)).toBe(true);
    expect(content.overlaps).toEqual([
      { first: 's0.csv', second: 's1.csv', length_s: 20, apart_m: expect.closeTo(0.25, 3) },
    ]);
    expect(notices).toMatchObject([{ code: 'join-apart', text: expect.stringContaining('25 cm apart') }]);
  });

  it('keep the gap between them, in whatever order they are given', async () => {
    const { content, notices, text } = await joined(session(300, 310, 41), session(0, 10, 40));
    const rows = cellsOf(await text('trajectory')).slice(1);
    expect(rows.map((r) => Number(r[1]))).toEqual([
      ...Array(11).keys(),
      ...Array.from({ length: 11 }, (_, k) => 300 + k),
    ]);
    expect(content.joined?.map((j) => [j.name, j.epochs])).toEqual([
      ['s1.csv', 11],
      ['s0.csv', 11],
    ]);
    expect([content.overlaps, notices]).toEqual([[], []]);
  });

  it('are refused when there is one alone, or when they are of other frames', async () => {
    await expect(joined(session(0, 10, 40))).rejects.toThrow(/Two trajectories/);
    const other = session(20, 30, 40, '# crs: EPSG:4326\n# point: imu\n');
    await expect(joined(session(0, 10, 40), other)).rejects.toMatchObject({ file: expect.any(String) });
  });
});
