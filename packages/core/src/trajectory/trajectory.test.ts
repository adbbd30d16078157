import { describe, expect, it } from 'vitest';
import { DEG } from '../frames';
import {
  binnedColumns,
  findGaps,
  findStrips,
  intervalAt,
  nominalStepS,
  statisticsOfBins,
  trajectoryStatistics,
  type Trajectory,
} from '.';

/** A drive north for 100 m, a half turn, 100 m back, then standing; 10 Hz. */
function drive(): Trajectory {
  const lat: number[] = [],
    lon: number[] = [],
    heading: number[] = [],
    vn: number[] = [],
    ve: number[] = [];
  let n = 0,
    e = 0,
    h = 0;
  const step = (turn: number, v: number) => {
    h += turn * 0.1;
    n += Math.cos(h) * v * 0.1;
    e += Math.sin(h) * v * 0.1;
    lat.push(0.9 + n / 6378137);
    lon.push(0.1 + e / 6378137 / Math.cos(0.9));
    heading.push((h + 2 * Math.PI) % (2 * Math.PI));
    vn.push(Math.cos(h) * v);
    ve.push(Math.sin(h) * v);
  };
  for (let i = 0; i < 125; i++) step(0, 8);
  for (let i = 0; i < 63; i++) step(0.5, 4);
  for (let i = 0; i < 125; i++) step(0, 8);
  for (let i = 0; i < 50; i++) step(0, 0);
  const f = (v: number[], map = (x: number, _i: number) => x) => Float64Array.from(v, map);
  const zero = new Float64Array(lat.length);
  return {
    week: 2423,
    sow: f(lat, (_, i) => 100 + i * 0.1),
    latRad: f(lat),
    lonRad: f(lon),
    hEllM: zero,
    headingRad: f(heading),
    rollRad: zero,
    pitchRad: zero,
    vnMps: f(vn),
    veMps: f(ve),
    vdMps: zero,
  };
}

describe('strips', () => {
  it('are the two straight runs, and every other piece is named', () => {
    const plan = findStrips(drive());
    expect(plan.strips).toHaveLength(2);
    expect(plan.strips.map((s) => s.id)).toEqual([1, 2]);
    for (const s of plan.strips) expect(Math.abs(s.lengthM - 100)).toBeLessThan(6);
    expect(plan.strips[1].headingRad / DEG).toBeCloseTo(180, 0);
    expect(plan.leftOut.map((s) => s.leftOut)).toEqual(['turning', 'standing']);
    const whole = [...plan.strips, ...plan.leftOut].reduce((sum, s) => sum + s.endSow - s.startSow, 0);
    expect(whole).toBeCloseTo(36.2, 6);
  });
  it('shorter than the limit are left out with the reason', () => {
    const plan = findStrips(drive(), { turnDegPerS: 6, minSpeedMps: 1, minLengthM: 500 });
    expect(plan.strips).toHaveLength(0);
    expect(plan.leftOut.map((s) => s.leftOut)).toContain('too short');
  });
});

describe('time', () => {
  it('finds gaps and intervals', () => {
    const sow = Float64Array.of(0, 0.1, 0.2, 0.3, 1.3, 1.4);
    expect(nominalStepS(sow)).toBeCloseTo(0.1, 12);
    expect(findGaps(sow)).toEqual([{ startSow: 0.3, endSow: 1.3, lengthS: 1 }]);
    expect(intervalAt(sow, 0.15)).toBe(1);
    expect(intervalAt(sow, 1.4)).toBe(4);
    expect(intervalAt(sow, -0.01)).toBe(-1);
    expect(intervalAt(sow, 2)).toBe(-1);
  });
});

it('summarises columns with units', () => {
  const rows = trajectoryStatistics(drive());
  const speed = rows.find((r) => r.name === 'Speed')!;
  expect(speed.unit).toBe('m/s');
  expect(speed.max).toBeCloseTo(8, 9);
  expect(speed.min).toBe(0);
});

describe('statistics by bins', () => {
  it('over all bins or some are those of the epochs in them', () => {
    const t = drive();
    const n = t.sow.length;
    const edges = [0, 7, 50, 51, 180, n];
    const counts = edges.slice(1).map((e, k) => e - edges[k]);
    const columns = binnedColumns(t, edges);
    for (const [from, to] of [
      [0, 5],
      [1, 4],
      [3, 4],
    ]) {
      const direct = trajectoryStatistics(t, edges[from], edges[to]);
      const binned = statisticsOfBins(columns, counts, from, to);
      expect(binned.map((b) => b.name)).toEqual(direct.map((d) => d.name));
      binned.forEach((b, k) => {
        for (const key of ['mean', 'rms', 'min', 'max'] as const)
          expect(Math.abs(b[key] - direct[k][key])).toBeLessThan(1e-5 * Math.max(1, Math.abs(direct[k][key])));
      });
    }
  });
});
