import { describe, expect, it } from 'vitest';
import { costOfDistance, rankBases, type BaseCandidate } from './bases';

const rover = { startGps: 1000, endGps: 2000, place: [8.47, 56.08, 45] as const };
const base = (id: number, name: string, north: number, startGps: number, endGps: number): BaseCandidate => ({
  id,
  name,
  startGps,
  endGps,
  gaps: [],
  rateHz: 1,
  antenna: 'MADE-UP',
  place: [8.47, 56.08 + north, 45],
});

describe('choosing a base', () => {
  it('takes the nearest that covers the whole span, and says what is nearer', () => {
    const { ranked, proposed, reason } = rankBases(rover, [
      base(1, 'FAR', 0.2, 0, 9000),
      base(2, 'NEAR', 0.001, 900, 1880),
      base(3, 'MIDDLE', 0.07, 900, 2100),
    ]);
    expect(ranked.map((b) => b.name)).toEqual(['NEAR', 'MIDDLE', 'FAR']);
    expect(proposed).toBe(3);
    expect(reason).toBe('MIDDLE is the nearest that covers the whole span; NEAR is nearer but does not cover it.');
    // one degree of latitude is 111.3 km there
    expect(ranked[1].distanceM! / 1000).toBeCloseTo(0.07 * 111.35, 1);
    expect(ranked[0].cover).toBeCloseTo(0.88, 9);
  });

  it('takes gaps off, falls back on the largest cover, and may find none', () => {
    const gappy = { ...base(1, 'A', 0.01, 0, 9000), gaps: [{ startGps: 1500, endGps: 1600 }] };
    const short = base(2, 'B', 0.001, 0, 1200);
    const { proposed, reason } = rankBases(rover, [gappy, short]);
    expect(proposed).toBe(1);
    expect(reason).toBe('None covers the whole span; A covers 90 %.');
    expect(rankBases(rover, [base(3, 'C', 0, 5000, 6000)]).proposed).toBeUndefined();
    expect(rankBases(rover, [{ ...short, place: undefined }]).ranked[0].distanceM).toBeNull();
  });

  it('prefers a real receiver close by to a virtual station, but not a distant one', () => {
    const virtual = { ...base(1, 'VIRT', 0.001, 0, 9000), antenna: 'VIRTUAL             NONE' };
    expect(rankBases(rover, [virtual, base(2, 'REAL', 0.003, 0, 9000)]).proposed).toBe(2);
    expect(rankBases(rover, [virtual, base(2, 'REAL', 0.3, 0, 9000)]).proposed).toBe(1);
  });

  it('says what distance costs', () => {
    expect(costOfDistance(800)).toBe('');
    expect(costOfDistance(8083)).toMatch(/^8.1 km away: about 8 mm more/);
    expect(costOfDistance(31000)).toContain('virtual station');
  });
});
