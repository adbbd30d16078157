import { describe, expect, it } from 'vitest';
import { crossAt, nearestStation, pathWithin, railOf, turnedBy } from './rail';

describe('sections led along a line', () => {
  // 30 m east, then 40 m north; the vehicle stood at the corner
  const rail = railOf([
    [100, 50],
    [130, 50],
    [130.01, 50.01],
    [130, 90],
  ]);
  const rounded = (v: readonly number[]) => v.map((x) => Number(x.toFixed(9)));

  it('lie square to it, from its left to its right', () => {
    expect(rail.lengthM).toBe(70);
    const first = crossAt(rail, 10, 5, 2, 0);
    expect([rounded(first.from), rounded(first.to), first.widthM]).toEqual([[110, 55], [110, 45], 2]);
    const second = crossAt(rail, 40, 5, 2, 0);
    expect([rounded(second.from), rounded(second.to)]).toEqual([
      [125, 60],
      [135, 60],
    ]);
    expect(rounded(crossAt(rail, 999, 5, 2, 0).from)).toEqual([125, 90]);
    expect(rounded(crossAt(rail, -5, 5, 2, 0).from)).toEqual([100, 55]);
  });

  it('are turned clockwise about their middle', () => {
    const turned = turnedBy({ from: [0, 0], to: [10, 0], widthM: 1 }, 90);
    expect([rounded(turned.from), rounded(turned.to)]).toEqual([
      [5, 5],
      [5, -5],
    ]);
    const across = crossAt(rail, 10, 5, 2, 90);
    expect(rounded(across.to)).toEqual([105, 50]);
  });

  it('begin where the line is nearest', () => {
    expect(nearestStation(rail, [112, 47])).toBe(12);
    expect(nearestStation(rail, [140, 80])).toBe(60);
    expect(nearestStation(rail, [500, 500])).toBe(70);
  });

  it('show where a path runs in them, with its height, and each crossing for itself', () => {
    const s = { from: [0, 0] as [number, number], to: [20, 0] as [number, number], widthM: 2 };
    // across at 5 m along rising 1 m in 10, back at 15 m, never ending within
    const path = { eastingM: [5, 5, 15, 15], northingM: [-5, 5, 5, -5], heightM: [1, 2, 3, 4] };
    const runs = pathWithin(s, path).map((r) => r.map(rounded));
    expect(runs).toEqual([
      [
        [5, 1.4],
        [5, 1.6],
      ],
      [
        [15, 3.4],
        [15, 3.6],
      ],
    ]);
    // along the section, in and out at its ends: one run
    const along = pathWithin(s, { eastingM: [-5, 10, 25], northingM: [0, 0, 0], heightM: [0, 3, 6] });
    expect(along.map((r) => r.map(rounded))).toEqual([
      [
        [0, 1],
        [10, 3],
        [20, 5],
      ],
    ]);
  });
});
