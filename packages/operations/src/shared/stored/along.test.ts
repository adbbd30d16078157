import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { FolderStore } from '../store';
import { OnFiles } from '../../test/onFiles';
import { cloudOf, pointsAlong, storeCloud, type OpenedStore } from '.';

const [E, N] = [467_000, 6_215_000];
/** Level ground at 10 m, half a metre apart, and a wall of 4 m across it at 5 m east, a quarter of a metre apart. */
const GROUND = Array.from({ length: 441 }, (_, i) => [E + 0.5 * (i % 21), N + 0.5 * Math.floor(i / 21), 10, 2]);
const WALL = Array.from({ length: 41 * 17 }, (_, i) => [E + 5, N + 0.25 * (i % 41), 10 + 0.25 * Math.floor(i / 41), 6]);
/** Noise hides nothing. */
const NOISE = Array.from({ length: 20 }, (_, i) => [E + 2, N + 5, 10.5 + 0.1 * i, 7]);

let files: OnFiles;
let cloud: OpenedStore;
beforeAll(async () => {
  files = await OnFiles.create();
  const store = new FolderStore(files.folder);
  const path = await files.cloud('c', [...GROUND, ...WALL, ...NOISE], 'EPSG:25832+5773', ['classification']);
  const { sha256: las } = await store.take(path);
  cloud = await cloudOf(store, { las, ...(await storeCloud(store, las, undefined)) });
});
afterAll(() => files.remove());

const at = (e: number, n: number, h: number) =>
  [E + e - cloud.origin[0], N + n - cloud.origin[1], h - cloud.origin[2]] as const;

describe('points in a line of sight', () => {
  it('are those of the wall in between, neither of the ground it begins on nor noise, nor of what lies behind', async () => {
    const from = at(3, 5, 10);
    const eyes = [at(15, 5, 16), at(15, 5, 46), at(-9, 5, 16), at(4.5, 5, 11)];
    const counts = await pointsAlong(
      cloud,
      eyes.map((to) => ({ from, to })),
      0.2,
      0.8,
    );
    // through the wall at 11 m; over it at 16 m; away from it; and from before it
    expect(counts[0]).toBeGreaterThan(0);
    expect([...counts.subarray(1)]).toEqual([0, 0, 0]);
  });

  it('are found however thin the way is, by how near they come', async () => {
    // straight at one point of the wall: 5 m east, 5 m north, 12 m high
    const [from, to] = [at(1, 5, 11), at(9, 5, 13)];
    const near = await pointsAlong(cloud, [{ from, to }], 0.01, 0.5);
    expect([...near]).toEqual([1]);
    // with a quarter of a metre its four neighbours come in
    const wide = await pointsAlong(cloud, [{ from, to }], 0.26, 0.5);
    expect([...wide]).toEqual([5]);
  });
});
