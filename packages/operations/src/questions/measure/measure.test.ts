import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type MeasureKind } from '@longheron/contract/requests';
import { loadQuestion } from '../../computation';
import { FolderStore } from '../../shared/store';
import { storeCloud, type EditedCloud } from '../../shared/stored';
import { OnFiles } from '../../test/onFiles';

/** Level ground at 10 m, a metre apart, and one point of class 6 in the middle, 4 m above it. */
const GROUND = Array.from({ length: 121 }, (_, i) => [467_000 + (i % 11), 6_215_000 + Math.floor(i / 11), 10, 2]);
const TOP = [467_005.2, 6_215_005.3, 14, 6];

let files: OnFiles;
let store: FolderStore;
let cloud: EditedCloud;
beforeAll(async () => {
  files = await OnFiles.create();
  store = new FolderStore(files.folder);
  const path = await files.cloud('c', [...GROUND, TOP], 'EPSG:25832+5773', ['classification']);
  const { sha256: las } = await store.take(path);
  cloud = { las, ...(await storeCloud(store, las, undefined)) };
});
afterAll(() => files.remove());

async function measured(kind: MeasureKind, rows: number[], radiusM = 3) {
  const ask = await loadQuestion('measure');
  return (await ask({ cloud, kind, rows, radiusM }, store, {})).content;
}
/** Rows in the store of places: points do not keep their order there. */
async function rowsOf(...places: Array<readonly [number, number]>): Promise<number[]> {
  const { points } = await measured(
    'area',
    Array.from({ length: GROUND.length + 1 }, (_, i) => i),
  );
  return places.map(([e, n]) => points.findIndex((p) => Math.hypot(p.eastingM - e, p.northingM - n) < 0.01));
}

describe('what is measured between points', () => {
  it('is the distance, in plan and in height', async () => {
    const rows = await rowsOf([467_001, 6_215_002], [TOP[0], TOP[1]]);
    const { values, points, stated } = await measured('distance', rows);
    const [dx, dy, dz] = [TOP[0] - 467_001, TOP[1] - 6_215_002, 4];
    expect(points[1]).toEqual({
      eastingM: expect.closeTo(TOP[0], 3),
      northingM: expect.closeTo(TOP[1], 3),
      heightM: expect.closeTo(14, 3),
    });
    expect(values.slopeM).toBeCloseTo(Math.hypot(dx, dy, dz), 3);
    expect(values.planM).toBeCloseTo(Math.hypot(dx, dy), 3);
    expect(values.heightM).toBeCloseTo(dz, 3);
    expect(values.bearingDeg).toBeCloseTo((Math.atan2(dx, dy) * 180) / Math.PI, 2);
    expect(values.gradePercent).toBeCloseTo((100 * dz) / Math.hypot(dx, dy), 1);
    // a text states no deviations
    expect(stated).toBe(false);
  });

  it('is the angle at the second, and the area within', async () => {
    const corner = await rowsOf([467_004, 6_215_000], [467_000, 6_215_000], [467_000, 6_215_003], [467_004, 6_215_003]);
    const angle = (await measured('angle', corner.slice(0, 3))).values;
    expect([angle.spaceDeg, angle.planDeg]).toEqual([expect.closeTo(90, 3), expect.closeTo(90, 3)]);
    const area = (await measured('area', corner)).values;
    expect(area).toMatchObject({
      planM2: expect.closeTo(12, 4),
      surfaceM2: expect.closeTo(12, 4),
      perimeterM: expect.closeTo(14, 4),
      crosses: false,
    });
  });

  it('is the height above the ground below, and the distance from a plane', async () => {
    const [top, ground] = await rowsOf([TOP[0], TOP[1]], [467_005, 6_215_005]);
    const { values } = await measured('above', [top]);
    expect(values.aboveM).toBeCloseTo(4, 3);
    expect(values.groundM).toBeCloseTo(10, 3);
    const plane = (await measured('plane', [ground, top])).values;
    expect(plane).toMatchObject({
      distanceM: expect.closeTo(4, 3),
      rmsM: expect.closeTo(0, 3),
      tiltDeg: expect.closeTo(0, 3),
    });
  });

  it('is refused for points that are not there, and where there is no ground or plane', async () => {
    await expect(measured('distance', [0, 10_000])).rejects.toMatchObject({ code: 'measure-point' });
    const [top] = await rowsOf([TOP[0], TOP[1]]);
    await expect(measured('plane', [top, 0], 0.05)).rejects.toMatchObject({ code: 'measure-plane' });
  });
});
