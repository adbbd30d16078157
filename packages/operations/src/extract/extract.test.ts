import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { LasFile } from '@longheron/formats/las';
import { OnFiles } from '../test/onFiles';

/** A grid of 20 by 20 points a metre apart; every other row is of strip 2, every fourth point of class 6. */
const POINTS = Array.from({ length: 400 }, (_, i): number[] => {
  const [x, y] = [i % 20, Math.floor(i / 20)];
  return [467_000 + x, 6_215_000 + y, y / 10, i % 4 ? 2 : 6, 1 + (y % 2), i];
});
const FILTER = { hiddenClasses: [], rejected: 'hidden' };

let files: OnFiles;
let cloud: string;
beforeAll(async () => {
  files = await OnFiles.create();
  cloud = await files.cloud('grid', POINTS, 'EPSG:25832+5773', ['classification', 'source', 'intensity']);
});
afterAll(() => files.remove());

/** Number in the grid of each point that was cut out, from its place. */
async function cut(selection: object, settings: object = {}) {
  const ran = await files.run('extract', { cloud: [cloud] }, { selection, ...settings }, { keeps: true });
  const file = await LasFile.openPath(ran.path('cloud'));
  const p = await file.readAll();
  const { scale, offset } = file.header;
  const at = (axis: Int32Array, i: number, k: number) => axis[i] * scale[k] + offset[k];
  const found = Array.from({ length: p.count }, (_, i) =>
    Math.round(at(p.x, i, 0) - 467_000 + 20 * (at(p.y, i, 1) - 6_215_000)),
  );
  await file.close();
  return { found: found.sort((a, b) => a - b), content: ran.content };
}
const numbers = (keep: (p: number[]) => boolean) => POINTS.flatMap((p, i) => (keep(p) ? [i] : []));
const square = (w: number, s: number, e: number, n: number) => ({
  kind: 'plan',
  polygon: [w, s, e, s, e, n, w, n].map((v, k) => v + (k % 2 ? 6_215_000 : 467_000)),
});

describe('a selection as a cloud of its own', () => {
  it('has the points of the shapes, one after the other: added, taken away, kept within', async () => {
    const regions = [
      { mode: 'add', shape: square(-0.5, -0.5, 9.5, 9.5) },
      { mode: 'subtract', shape: square(2.5, 2.5, 4.5, 4.5) },
      { mode: 'within', shape: { ...square(-1, -1, 30, 30), heightM: [0.05, 0.55] } },
    ];
    const { found, content } = await cut({ regions, inverted: false, filter: FILTER });
    const expected = numbers(([e, n, h]) => {
      const [x, y] = [e - 467_000, n - 6_215_000];
      const taken = x >= 3 && x <= 4 && y >= 3 && y <= 4;
      return x <= 9 && y <= 9 && !taken && h > 0.05 && h < 0.55;
    });
    expect(found).toEqual(expected);
    expect(content.figures).toMatchObject({ points: expected.length, selected: expected.length, keep: null });
    expect(content.countsByClass).toBeDefined();
  });

  it('has what the filter lets through, shapes or none, and the other way round', async () => {
    const filter = { ...FILTER, hiddenClasses: [6], strips: [2] };
    const seen = numbers(([, , , cls, strip]) => cls !== 6 && strip === 2);
    expect((await cut({ regions: [], inverted: false, filter })).found).toEqual(seen);
    const regions = [{ mode: 'add', shape: square(-1, -1, 4.5, 30) }];
    const { found } = await cut({ regions, inverted: true, filter });
    expect(found).toEqual(seen.filter((i) => POINTS[i][0] > 467_004.5));
    const clip = { from: [467_000, 6_215_005], to: [467_019, 6_215_005], widthM: 1 };
    const clipped = await cut({ regions: [], inverted: false, filter: { ...FILTER, clip } });
    expect(clipped.found).toEqual(numbers(([, n]) => n === 6_215_005));
  });

  it('is thinned to one point a cube', async () => {
    const { found, content } = await cut({ regions: [], inverted: false, filter: FILTER }, { thinM: 2, keep: 'first' });
    expect(content.figures).toMatchObject({ selected: 400, thin_m: 2, keep: 'first' });
    // cubes of two metres over a plane of 19 by 19 by 1.9 m, wherever their edges lie
    expect(found.length).toBeGreaterThanOrEqual(100);
    expect(found.length).toBeLessThanOrEqual(11 * 11 * 2);
    expect(new Set(found).size).toBe(found.length);
  });

  it('is refused when it holds nothing, or is none', async () => {
    const regions = [{ mode: 'add', shape: square(100, 100, 110, 110) }];
    await expect(cut({ regions, inverted: false, filter: FILTER })).rejects.toMatchObject({ code: 'selection-empty' });
    await expect(cut({ regions: 'all', inverted: false, filter: FILTER })).rejects.toThrow(/regions/);
  });
});
