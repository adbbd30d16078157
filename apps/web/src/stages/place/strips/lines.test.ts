import { describe, expect, it } from 'vitest';
import { type FileFacts } from '@longheron/contract/kinds';
import { type Preview } from '../../mapData';
import { linesOf } from './lines';

/** A flight at 45 m/s: 20 s north, a wide turn back, 30 s south; four epochs a second. */
function preview(): Preview {
  const time: number[] = [];
  const eastingM: number[] = [];
  const northingM: number[] = [];
  let [e, n, heading] = [467_000, 6_215_000, 0];
  for (let k = 0; k < 4 * 86; k++) {
    const t = k / 4;
    time.push(2423 * 604_800 + 1000 + t);
    eastingM.push(e);
    northingM.push(n);
    if (t >= 20 && t < 56) heading += (5 * Math.PI) / 180 / 4;
    e += (45 / 4) * Math.sin(heading);
    n += (45 / 4) * Math.cos(heading);
  }
  const level = time.map(() => 300);
  return {
    startGps: time[0],
    endGps: time.at(-1)!,
    epochs: time.length,
    time,
    eastingM,
    northingM,
    worstSdM: level,
    columns: { 'Ellipsoidal height': { unit: 'm', min: level, max: level } },
    statistics: [],
  };
}
const recorded = (from: number, to: number, gaps: Array<[number, number]> = []): FileFacts => ({
  name: 'scanner.laser.h5',
  bytes: 1,
  kind: 'laser-returns',
  startGps: 2423 * 604_800 + 1000 + from,
  endGps: 2423 * 604_800 + 1000 + to,
  extent: null,
  count: 1,
  rateHz: 1,
  gaps: gaps.map(([a, b]) => ({
    startGps: 2423 * 604_800 + 1000 + a,
    endGps: 2423 * 604_800 + 1000 + b,
    lengthS: b - a,
  })),
  details: [],
});

describe('lines of a flight while their shortest length moves', () => {
  const p = preview();

  it('are those of the full trajectory, about, with their share of what was recorded', () => {
    const lines = linesOf(p, {}, [recorded(0, 86)]);
    expect(lines.flight).toBe(true);
    expect(lines.plan.strips).toHaveLength(2);
    expect(lines.share!).toBeGreaterThan(0.53);
    expect(lines.share!).toBeLessThan(50 / 86);
    // recorded in the lines alone: nearly all of it lies in them
    expect(linesOf(p, {}, [recorded(1, 85, [[18, 58]])]).share!).toBeGreaterThan(0.99);
    expect(linesOf(p, {}, []).share).toBeNull();
  });

  it('are whole up to a gap between them', () => {
    const q = preview();
    // the turn was not recorded
    const kept = q.time.map((t) => t - q.time[0] < 20 || t - q.time[0] > 56);
    const of = (v: number[]) => v.filter((_, i) => kept[i]);
    const level = of(q.worstSdM);
    const parts = { ...q, time: of(q.time), eastingM: of(q.eastingM), northingM: of(q.northingM), worstSdM: level };
    const columns = { 'Ellipsoidal height': { unit: 'm', min: level, max: level } };
    const lines = linesOf({ ...parts, columns }, {}, []);
    expect(lines.spans.map(([a, b]) => Math.round(b - a))).toEqual([20, 30]);
  });

  it('are fewer when they must be longer, and the time left out grows', () => {
    const longer = linesOf(p, { minLengthM: 1000 }, [recorded(0, 86)]);
    expect(longer.plan.strips).toHaveLength(1);
    expect(longer.spans[0][1] - longer.spans[0][0]).toBeGreaterThan(28);
    expect(longer.share!).toBeLessThan(30 / 86);
    expect(longer.plan.leftOut.map((s) => s.leftOut)).toContain('too short');
    expect(linesOf(p, { minLengthM: 2000 }, [recorded(0, 86)])).toMatchObject({ spans: [], share: 0 });
  });
});
