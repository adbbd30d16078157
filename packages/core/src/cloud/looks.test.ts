import { describe, expect, it } from 'vitest';
import { cellOf, cellsAlong, lookedAt } from './looks';

describe('where somebody has looked', () => {
  const cells = [0, 1, 2, 3].map((x) => ({ x, y: 0, points: 10, changed: x === 2 ? 4 : 0 }));

  it('is laid over where there are points, and gaps stand out', () => {
    const seen = lookedAt(cells, [
      { x: 0, y: 0, how: 'close', seconds: 3, lastAt: '2026-06-17T10:00:00Z' },
      { x: 0, y: 0, how: 'section', seconds: 2, lastAt: '2026-06-17T11:00:00Z' },
      { x: 2, y: 0, how: 'section', seconds: 1, lastAt: '2026-06-17T09:00:00Z' },
      // beside the cloud
      { x: 9, y: 9, how: 'close', seconds: 60, lastAt: '2026-06-18T09:00:00Z' },
    ]);
    expect(seen).toMatchObject({ coveredM2: 100, closeM2: 25, sectionM2: 50, neverM2: 50, changedPoints: 4 });
    expect(seen.lastAt).toBe('2026-06-17T11:00:00Z');
    expect(seen.cells[0]).toMatchObject({ closeS: 3, sectionS: 2 });
    expect(lookedAt(cells, []).lastAt).toBeNull();
  });

  it('goes by cells of five metres, west and south of zero too', () => {
    expect([cellOf(467_004.99, 5), cellOf(-0.1, -5)]).toEqual([
      [93_400, 1],
      [-1, -1],
    ]);
  });

  it('takes the cells that a section crosses', () => {
    const along = cellsAlong({ from: [1, 1], to: [14, 1], widthM: 1 });
    expect(along.sort((a, b) => a[0] - b[0])).toEqual([
      [0, 0],
      [1, 0],
      [2, 0],
    ]);
    // a wide one reaches the rows beside it
    const wide = cellsAlong({ from: [1, 2], to: [4, 2], widthM: 8 });
    expect(new Set(wide.map(([, y]) => y))).toEqual(new Set([-1, 0, 1]));
  });
});
