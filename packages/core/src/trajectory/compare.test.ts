import { describe, expect, it } from 'vitest';
import { DEG } from '../frames';
import { compareTrajectories, type Trajectory } from '.';

/** Northwards at an even pace, with heading that passes north; `step` seconds between epochs. */
function drive(
  step: number,
  count: number,
  change: Partial<Record<'north' | 'up' | 'heading', number>> = {},
): Trajectory {
  const column = (f: (t: number) => number) => Float64Array.from({ length: count }, (_, i) => f(i * step));
  const lat = 56 * DEG;
  const e2 = 0.00669438002;
  const radius = (6378137 * (1 - e2)) / (1 - e2 * Math.sin(lat) ** 2) ** 1.5;
  return {
    week: 2423,
    sow: column((t) => 100 + t),
    lonRad: column(() => 0.15),
    hEllM: column(() => 40 + (change.up ?? 0)),
    latRad: column((t) => lat + (5 * t + (change.north ?? 0)) / (radius + 40)),
    rollRad: column(() => 0.01),
    pitchRad: column(() => -0.02),
    headingRad: column((t) => ((359.5 + t + (change.heading ?? 0)) % 360) * DEG),
  };
}

describe('comparing trajectories', () => {
  it('gives the first less the second, whatever their rates, and over north', () => {
    const d = compareTrajectories(drive(0.2, 10, { north: 0.03, up: 0.1, heading: 0.25 }), drive(1, 4));
    expect(d.without).toBe(0);
    expect(d.sow.length).toBe(10);
    const of = (name: string) => d.columns.find((c) => c.name === name)!;
    expect(of('north').mean).toBeCloseTo(0.03, 5);
    expect(of('north').sd).toBeLessThan(1e-5);
    expect(of('down').rms).toBeCloseTo(0.1, 5);
    expect(of('down').mean).toBeCloseTo(-0.1, 5);
    expect(of('heading').mean).toBeCloseTo(0.25, 5);
    expect(of('heading').max).toBeCloseTo(0.25, 5);
    expect(of('roll').max).toBeLessThan(1e-6);
  });

  it('counts what has no counterpart, leaves attitude out where one has none, and refuses other days', () => {
    const gap = drive(1, 20);
    gap.sow = gap.sow.map((v, i) => (i > 9 ? v + 10 : v));
    const d = compareTrajectories(drive(1, 30), gap);
    // from the last epoch before the gap, whose next is too far, up to the one before its end
    expect(d.without).toBe(11);
    const plain = { ...drive(1, 5), rollRad: undefined };
    expect(compareTrajectories(plain, drive(1, 5)).columns.map((c) => c.name)).toEqual(['north', 'east', 'down']);
    expect(() => compareTrajectories(drive(1, 5), { ...drive(1, 5), week: 2424 })).toThrow(/share no time/);
  });
});
