import { describe, expect, it } from 'vitest';
import { DEG } from '../frames';
import {
  binnedColumns,
  findGaps,
  findStrips,
  FLIGHT_STRIPS,
  isFlight,
  STRIP_DEFAULTS,
  stripRulesFor,
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

describe('strips of a flight', () => {
  /** Pieces in seconds, with what changes a second; 45 m/s, 10 epochs a second. */
  function fly(pieces: Array<{ s: number; turn?: number; climb?: number; gust?: number; gap?: number }>, mps = 45) {
    const rows: number[][] = [];
    let [t, north, east, h, heading, bank] = [0, 0, 0, 250, 0, 0];
    for (const { s, turn = 0, climb = 0, gust = 0, gap = 0 } of pieces) {
      bank = turn ? 20 : 0;
      for (let k = 0; k < s * 10; k++) {
        rows.push([t, north, east, h, heading + gust * Math.sin(2 * Math.PI * 0.4 * t), bank]);
        t += 0.1;
        heading += turn / 10;
        h += climb / 10;
        north += 0.1 * mps * Math.cos(heading * DEG);
        east += 0.1 * mps * Math.sin(heading * DEG);
      }
      t += gap;
    }
    const column = (k: number, by = 1) => Float64Array.from(rows, (r) => r[k] * by);
    return {
      week: 2400,
      sow: column(0),
      latRad: column(1, 1 / 6378137),
      lonRad: column(2, 1 / 6378137),
      hEllM: column(3),
      headingRad: column(4, DEG),
      rollRad: column(5, DEG),
      pitchRad: column(0, 0),
    };
  }
  const flight = fly([
    { s: 20, climb: 5 },
    { s: 10, gust: 1 },
    { s: 36, turn: 5 },
    { s: 12, gust: 1 },
    { s: 36, turn: -5 },
    { s: 12, gust: 1, gap: 30 },
    { s: 12 },
    { s: 30, climb: 10 },
    { s: 12 },
  ]);

  it('are its lines alone: climb, turns and what lies much higher are left out by name', () => {
    expect(isFlight(flight)).toBe(true);
    const plan = findStrips(flight, stripRulesFor(flight));
    expect(plan.strips).toHaveLength(4);
    // each loses less than a second of straight flight to its turns
    plan.strips.forEach((s, k) => expect(s.lengthM / 45 / [10, 12, 12, 12][k]).toBeGreaterThan(0.85));
    expect(new Set(plan.leftOut.map((s) => s.leftOut))).toEqual(
      new Set(['climbing', 'turning', 'gap', 'another height']),
    );
    const all = [...plan.strips, ...plan.leftOut].reduce((sum, s) => sum + s.endSow - s.startSow, 0);
    expect(all).toBeCloseTo(flight.sow.at(-1)! - flight.sow[0], 6);
  });

  it('follow what is asked for, else the kind of platform', () => {
    expect(stripRulesFor(flight, { minLengthM: 700 })).toEqual({ ...FLIGHT_STRIPS, minLengthM: 700 });
    expect(findStrips(flight, stripRulesFor(flight, { minLengthM: 700 })).strips).toHaveLength(0);
    expect(stripRulesFor(drive(), { turnDegPerS: undefined })).toEqual(STRIP_DEFAULTS);
    // a motorway: fast, never banked
    const level = { ...flight, rollRad: flight.rollRad.map(() => 0.02) };
    expect(
      isFlight({ ...level, latRad: level.latRad.map((v) => v * 0.7), lonRad: level.lonRad.map((v) => v * 0.7) }),
    ).toBe(false);
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
