import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { BOAT_CRS, boatFiles } from '../test/boatFiles';
import { OnFiles } from '../test/onFiles';

let files: OnFiles;
let cloud: string[];
/** The first line has its cast; the second and third were run in water that no cast knew; the fourth has a cast again. */
beforeAll(async () => {
  files = await OnFiles.create();
  const boat = await boatFiles(files, {
    lines: [
      { line: 1, fromS: 52, toS: 78 },
      { line: 2, fromS: 18, toS: 44 },
      { line: 3, fromS: 110, toS: 162 },
    ],
    beams: 90,
    pingsPerS: 5,
    factor: 1,
  });
  cloud = [(await files.run('soundings', { ...boat.paths, waterLevel: [] }, {}, { crs: BOAT_CRS })).path('cloud')];
});
afterAll(() => files.remove());

describe('lines of soundings', () => {
  it('are compared by angle, line and pair; a cast that is out of date is seen; orders are counted', async () => {
    const { content, made, text } = await files.run('line-check', { cloud }, { cellM: 2 });
    const f = content.figures;
    expect(f.cells).toBeGreaterThan(200);
    expect(f.by_line.map((l) => l.line)).toEqual([1, 2, 3]);
    expect(f.by_pair.map((p) => [p.a, p.b]).sort()).toEqual([
      [1, 2],
      [1, 3],
      [2, 3],
    ]);
    // the third line repeats the second in water that its cast knows: outer beams of the others lie lower against it
    expect(f.bends.some((b) => b.line === 2 && b.outer_m < 0)).toBe(true);
    expect(made.report.notices.map((n) => n.code)).toContain('line-bends');
    // by what they state, centimetres in ten metres of water, soundings keep the strictest order
    expect(f.kept).toBe('Exclusive Order');
    expect(f.orders.map((o) => o.soundings)).toEqual(Array(4).fill(f.soundings));
    expect((await text('table')).split('\n')[0]).toBe('a,b,cells,mean_m,sd_m');
  });

  it('that are one alone, or far apart, are refused', async () => {
    const one = [
      await files.cloud(
        'one',
        [
          [1, 2, -3],
          [2, 3, -4],
        ].map(([x, y, z]) => [467000 + x, 6215000 + y, z]),
      ),
    ];
    await expect(files.run('line-check', { cloud: one }, {})).rejects.toMatchObject({ code: 'line-check-one' });
  });
});
