import { describe, expect, it } from 'vitest';
import { joinTrajectories, type Trajectory } from '.';

function part(week: number, startSow: number, n: number, more: Partial<Trajectory> = {}): Trajectory {
  const column = (f: (i: number) => number) => Float64Array.from({ length: n }, (_, i) => f(i));
  const seconds = (i: number) => (week - 2423) * 604800 + startSow + i;
  return {
    week,
    sow: column((i) => startSow + i),
    lonRad: column(() => 0.14),
    hEllM: column(() => 50),
    latRad: column((i) => 0.98 + 1e-7 * seconds(i)),
    crs: 'EPSG:4937',
    point: 'antenna',
    sdNM: column(() => 0.01),
    solution: new Uint8Array(n).fill(1),
    ...more,
  };
}

describe('sessions as one trajectory', () => {
  it('stand in the order of time, over the end of a week, and keep the gap', () => {
    const { trajectory, overlaps, parts } = joinTrajectories(
      [part(2424, 5, 10), part(2423, 604780, 15)],
      ['second', 'first'],
    );
    expect(trajectory.week).toBe(2423);
    expect([...trajectory.sow.slice(13, 17)]).toEqual([604793, 604794, 604805, 604806]);
    expect(trajectory.latRad[15]).toBeCloseTo(0.98 + 1e-7 * 604805, 12);
    expect(overlaps).toEqual([]);
    expect(parts.map((p) => p.part)).toEqual([1, 0]);
  });
  it('are cut in the middle of an overlap, whose difference is told', () => {
    const b = part(2423, 110, 30);
    b.hEllM.fill(50.25);
    const { trajectory, overlaps } = joinTrajectories([part(2423, 100, 21), b], ['a', 'b']);
    expect([...trajectory.sow]).toEqual(Array.from({ length: 40 }, (_, k) => 100 + k));
    expect(trajectory.hEllM[15]).toBe(50);
    expect(trajectory.hEllM[16]).toBe(50.25);
    expect(overlaps[0].lengthS).toBe(10);
    expect(overlaps[0].apartM).toBeCloseTo(0.25, 4);
  });
  it('lose what one of them lacks', () => {
    const bare = part(2423, 200, 5);
    delete bare.sdNM;
    expect(joinTrajectories([part(2423, 100, 5), bare], ['a', 'b']).trajectory.sdNM).toBeUndefined();
  });
  it('are refused in other frames, of other points, or within each other', () => {
    const a = part(2423, 100, 50);
    expect(() => joinTrajectories([a, part(2423, 200, 5, { crs: 'EPSG:7912' })], ['a', 'b'])).toThrow(/frame/);
    expect(() => joinTrajectories([a, part(2423, 200, 5, { point: 'imu' })], ['a', 'b'])).toThrow(/point/);
    expect(() => joinTrajectories([a, part(2423, 110, 5)], ['a', 'b'])).toThrow(/within/);
  });
});
