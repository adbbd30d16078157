import { describe, expect, it } from 'vitest';
import { LineString } from 'ol/geom';
import { gridFeatures } from './grid';

/** Coordinates of the lines that run north, in order. */
function eastings(extent: number[], size: number[]): number[] {
  return gridFeatures(extent, size)
    .map((f) => (f.getGeometry() as LineString).getCoordinates())
    .filter(([a, b]) => a[0] === b[0])
    .map(([a]) => a[0]);
}

describe('the grid of coordinates', () => {
  it.each([
    ['a small plan', [467000, 6214900, 467400, 6215600], [230, 400]],
    ['a wide map', [466000, 6214000, 468000, 6215000], [760, 380]],
    ['a few metres', [467000, 6215000, 467012, 6215006], [760, 380]],
  ])('in %s has whole steps, no nearer than a coordinate is wide', (_, extent, size) => {
    const lines = eastings(extent, size);
    const perPixel = Math.max(extent[2] - extent[0], extent[3] - extent[1]) / Math.max(...size);
    lines.slice(1).forEach((x, k) => expect((x - lines[k]) / perPixel).toBeGreaterThanOrEqual(84));
    const step = lines.length > 1 ? lines[1] - lines[0] : 1;
    for (const x of lines) expect(Math.abs(x / step - Math.round(x / step))).toBeLessThan(1e-9);
    expect(lines.length).toBeLessThanOrEqual(9);
  });

  it('is nothing without an extent', () => {
    expect(gridFeatures([0, 0, 0, 0], [100, 100])).toEqual([]);
    expect(gridFeatures([0, 0, Infinity, 1], [100, 100])).toEqual([]);
  });
});
