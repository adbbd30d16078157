import { describe, expect, it } from 'vitest';
import { checkDelivery, deliveryWords, DELIVERY_DEFAULTS, tileKey, type DeliveredTile } from '.';

/** A square tile of 100 m filled with points 0.5 m apart, `inset` from the right edge of its square. */
const tile = (c: number, r: number, more: Partial<DeliveredTile> & { inset?: number } = {}): DeliveredTile => ({
  name: `t_${c}_${r}.laz`,
  points: 40_000 + 7 * (c % 10) + 3 * (r % 10),
  bounds: [100 * c + 0.2, 100 * r + 0.2, 100 * c + 99.7 - (more.inset ?? 0), 100 * r + 99.7],
  ...more,
});
const grid = (columns: number, rows: number) =>
  Array.from({ length: columns * rows }, (_, i) => tile(4670 + (i % columns), 62150 + Math.floor(i / columns)));
const faults = (tiles: DeliveredTile[], index?: Parameters<typeof checkDelivery>[1], more = {}) =>
  checkDelivery(tiles, index, { ...DELIVERY_DEFAULTS, ...more }).findings.map((f) => [f.fault, ...f.tiles]);

describe('a delivery of tiles', () => {
  it('that is whole has no fault, and its squares are found', () => {
    const check = checkDelivery(grid(4, 3), undefined);
    expect(check).toMatchObject({ tiles: 12, edgeM: 100, bufferM: 0, findings: [] });
    expect(check.points).toBe(grid(4, 3).reduce((s, t) => s + t.points, 0));
  });

  it('names a hole inside and none at the rim', () => {
    const tiles = grid(4, 4).filter((t) => t.name !== 't_4671_62151.laz' && t.name !== 't_4670_62150.laz');
    const { findings } = checkDelivery(tiles, undefined);
    expect(findings).toEqual([
      { fault: 'hole', tiles: [], value: 10_000, at: [467_100, 6_215_100, 467_200, 6_215_200] },
    ]);
  });

  it('names a seam that stays open, and not one that is as wide as the points are apart', () => {
    const tiles = grid(3, 2);
    tiles[1] = tile(4671, 62150, { inset: 6 });
    const { findings } = checkDelivery(tiles, undefined);
    expect(findings.map((f) => [f.fault, ...f.tiles])).toEqual([['gap', 't_4671_62150.laz', 't_4672_62150.laz']]);
    expect(findings[0].value).toBeCloseTo(6.5, 6);
    expect(deliveryWords(findings[0])).toBe('Between t_4671_62150.laz and t_4672_62150.laz is a gap of 6.50 m.');
  });

  it('tells a tile that came twice, and tiles over each other', () => {
    const tiles = grid(3, 1);
    tiles.push({ ...tiles[2], name: 'copy.laz' });
    tiles[0] = { ...tiles[0], bounds: [467_000.2, 6_215_000.2, 467_120, 6_215_099.7] };
    const { findings } = checkDelivery(tiles, undefined);
    expect(findings.map((f) => [f.fault, ...f.tiles])).toEqual([
      ['duplicate', 't_4672_62150.laz', 'copy.laz'],
      ['overlap', 't_4670_62150.laz', 't_4671_62150.laz'],
    ]);
    expect(findings[1].value).toBeCloseTo(19.8, 6);
  });

  it('takes the same margin between all neighbours for a buffer', () => {
    const wide = grid(3, 3).map((t) => ({
      ...t,
      bounds: [t.bounds[0] - 5, t.bounds[1] - 5, t.bounds[2] + 5, t.bounds[3] + 5] as DeliveredTile['bounds'],
    }));
    const { bufferM, findings } = checkDelivery(wide, undefined);
    expect(bufferM).toBeCloseTo(9.5, 6);
    expect(findings).toEqual([]);
  });

  it('sees a cap that was reached, stated or not', () => {
    const tiles = grid(3, 1);
    tiles[0].points = tiles[2].points = 50_000;
    expect(faults(tiles)).toEqual([
      ['cap', 't_4670_62150.laz'],
      ['cap', 't_4672_62150.laz'],
    ]);
    tiles[0].points = 49_999;
    expect(faults(tiles)).toEqual([]);
    expect(faults(tiles, undefined, { capPoints: 50_000 })).toEqual([['cap', 't_4672_62150.laz']]);
    tiles[2].points = 5_000_000;
    expect(faults(tiles)).toEqual([['cap', 't_4672_62150.laz']]);
  });

  it('holds an index against what came', () => {
    const tiles = grid(2, 2);
    const index = tiles.map((t) => ({ name: `LAZ/${t.name.toUpperCase()}`, points: t.points, bounds: t.bounds }));
    index[0].points += 12;
    index[1].bounds = [index[1].bounds[0], index[1].bounds[1], index[1].bounds[2] - 3, index[1].bounds[3]];
    index.push({ name: 't_9_9.laz', points: 5, bounds: [0, 0, 1, 1] });
    tiles.push(tile(4672, 62150));
    const check = checkDelivery(tiles, index);
    expect(check.findings.map(deliveryWords)).toEqual([
      't_9_9.laz is in the index and was not delivered (5 points).',
      't_4670_62150.laz has 12 points fewer than the index says.',
      't_4671_62150.laz has points up to 3.00 m outside the outline that the index gives.',
      't_4672_62150.laz was delivered and is not in the index.',
    ]);
  });

  it('of no squares is still checked for what does not need them', () => {
    const odd = [
      tile(0, 0, { bounds: [3, 4, 61, 77] }),
      tile(1, 0, { bounds: [61.5, -20, 170, 40] }),
      tile(2, 0, { bounds: [150, 30, 190, 90] }),
    ];
    const check = checkDelivery(odd, undefined);
    expect(check.edgeM).toBeNull();
    expect(check.findings.map((f) => f.fault)).toEqual(['overlap']);
    expect(checkDelivery([], undefined).findings).toEqual([]);
    expect(tileKey('C:\\tiles\\A_1.copy.LAZ')).toBe('a_1.copy');
  });
});
