import { describe, expect, it } from 'vitest';
import { DEG } from '../frames/ellipsoid';
import { type CameraModel } from '../frames/mounting';
import { footprintOf, overlapShare, overlapsOf, sharedPolygon, signedArea, type CameraPose } from '.';

const down: CameraModel = { focalLengthMm: 35, sensorMm: [36, 24], pixels: [7200, 4800], looks: 'down' };
const pose = (more: Partial<CameraPose> = {}): CameraPose => ({
  xyzM: [1000, 2000, 430],
  rollRad: 0,
  pitchRad: 0,
  headingRad: 0,
  convergenceRad: 0,
  ...more,
});

describe('footprints', () => {
  it('of a level camera are the frame times height over focal length, turned with the heading', () => {
    const f = footprintOf(pose(), down, 80, 1e4)!;
    // 350 m above ground, 1 : 10 000
    expect(f.corners.flat().map((v) => Number(v.toFixed(6)))).toEqual([820, 2120, 1180, 2120, 1180, 1880, 820, 1880]);
    expect(f.slantM).toBeCloseTo(350, 9);
    expect(f.groundSampleM).toBeCloseTo(0.05, 12);
    expect(f.open).toBe(false);
    const east = footprintOf(pose({ headingRad: 90 * DEG }), down, 80, 1e4)!;
    // flying east the top of the picture is in the east
    expect(east.corners[0].map(Math.round)).toEqual([1120, 2180]);
    const grid = footprintOf(pose({ headingRad: 90 * DEG, convergenceRad: 90 * DEG }), down, 80, 1e4)!;
    expect(grid.corners[0].map(Math.round)).toEqual([820, 2120]);
  });

  it('of a tilted camera move by the tangent, and reach to the horizon', () => {
    // right side down by 20°: the view goes left
    const f = footprintOf(pose({ rollRad: 20 * DEG }), down, 80, 1e4)!;
    const half = Math.atan(18 / 35);
    const edge = (a: number) => 1000 + 350 * Math.tan(-20 * DEG + a);
    expect(f.corners[0][0]).toBeCloseTo(edge(-half), 6);
    expect(f.corners[1][0]).toBeCloseTo(edge(half), 6);
    const ahead: CameraModel = { focalLengthMm: 8, sensorMm: [11.2, 7], looks: 'forward' };
    const g = footprintOf(pose({ xyzM: [0, 0, 2], pitchRad: -8 * DEG }), ahead, 0, 60)!;
    expect(g.open).toBe(true);
    // bottom edge: 8° and half the opening below the horizon
    expect(g.corners[2][1]).toBeCloseTo(2 / Math.tan(8 * DEG + Math.atan(3.5 / 8)), 6);
    expect(Math.hypot(...g.corners[0])).toBeCloseTo(60, 9);
    expect(g.slantM).toBeCloseTo(2 / Math.sin(8 * DEG), 9);
    expect(g.groundSampleM).toBeNaN();
    expect(footprintOf(pose({ pitchRad: 60 * DEG }), ahead, 80, 1e4)).toBeUndefined();
    expect(footprintOf(pose(), down, 500, 1e4)).toBeUndefined();
  });
});

describe('overlap', () => {
  const square = (x: number, y: number, a = 1): Array<[number, number]> => [
    [x, y],
    [x + a, y],
    [x + a, y + a],
    [x, y + a],
  ];
  it('is the shared area, whichever way round the corners run', () => {
    expect(overlapShare(square(0, 0), square(0.4, 0))).toBeCloseTo(0.6, 12);
    expect(overlapShare([...square(0, 0)].reverse(), square(0.4, 0.5))).toBeCloseTo(0.3, 12);
    expect(overlapShare(square(0, 0), square(2, 0))).toBe(0);
    expect(overlapShare(square(0, 0), square(-1, -1, 5))).toBeCloseTo(1, 12);
    // two unit squares, one turned by 45° about the same middle: a regular octagon of area 2·(√2 − 1)
    const r = Math.SQRT1_2;
    const turned: Array<[number, number]> = [
      [0.5 + r, 0.5],
      [0.5, 0.5 + r],
      [0.5 - r, 0.5],
      [0.5, 0.5 - r],
    ];
    expect(Math.abs(signedArea(sharedPolygon(square(0, 0), turned)))).toBeCloseTo(2 * (Math.SQRT2 - 1), 12);
  });

  it('goes along the series and across to other lines', () => {
    const there = [square(0, 0), square(0.4, 0), square(0.8, 0), square(1.2, 0)];
    const back = [square(1.2, 0.7), square(0.8, 0.7), undefined, square(0, 0.7)];
    const { next, side } = overlapsOf([...there, ...back], 2);
    expect(next[0]).toBeCloseTo(0.6, 12);
    expect(next[3]).toBeCloseTo(0.3, 12);
    expect(next[5]).toBeNaN();
    expect(side[0]).toBeCloseTo(0.3, 12);
    expect(side[6]).toBeNaN();
  });
});
