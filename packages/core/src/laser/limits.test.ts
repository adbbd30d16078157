import { describe, expect, it } from 'vitest';
import { LIMIT_DEFAULTS, noLimits, ReturnJudge, type ReturnLimits } from './limits';
import { type LaserReturns } from './returns';

const returns = (rows: Array<{ range: number; azimuth?: number; intensity?: number; of?: number }>): LaserReturns => ({
  week: 2423,
  sow: new Float64Array(rows.length),
  rangeM: Float32Array.from(rows, (r) => r.range),
  azimuthDeg: Float32Array.from(rows, (r) => r.azimuth ?? 90),
  elevationDeg: new Float32Array(rows.length),
  intensity: Uint16Array.from(rows, (r) => r.intensity ?? 1000),
  returnNumber: Uint8Array.from(rows, () => 1),
  returnCount: Uint8Array.from(rows, (r) => r.of ?? 1),
});
const judge = (limits: Partial<ReturnLimits>, rows: Parameters<typeof returns>[0], from = 0) => {
  const j = new ReturnJudge({ ...LIMIT_DEFAULTS, ...limits });
  const out = new Uint8Array(rows.length - from);
  j.judge(returns(rows), from, rows.length, out);
  return { out: [...out], counts: j.counts };
};

describe('limits of returns', () => {
  it('keep everything unless one is set', () => {
    expect(noLimits(LIMIT_DEFAULTS)).toBe(true);
    expect(noLimits({ ...LIMIT_DEFAULTS, maxRangeM: 80 })).toBe(false);
    expect(judge({}, [{ range: 0 }, { range: 500, intensity: 0 }]).out).toEqual([0, 0]);
  });

  it('count each return for the first limit it fails, and those of several echoes', () => {
    const { out, counts } = judge({ minRangeM: 1.5, maxRangeM: 80, minIntensity: 50, maxIntensity: 60_000 }, [
      { range: 1.4 },
      { range: 1.5 },
      { range: 80 },
      { range: 80.5, intensity: 10 },
      { range: 20, intensity: 49, of: 3 },
      { range: 20, intensity: 65_535 },
      { range: Number.NaN },
    ]);
    expect(out).toEqual([1, 0, 0, 1, 1, 1, 1]);
    expect(counts).toEqual({ range: 3, intensity: 2, azimuth: 0, ofSeveral: 1, rejected: 5 });
  });

  it('leave a sector out that may run through north', () => {
    const at = (azimuth: number) => ({ range: 10, azimuth });
    const rows = [at(349), at(350), at(0), at(9.5), at(10), at(-5), at(370)];
    expect(judge({ fromAzimuthDeg: 350, toAzimuthDeg: 10 }, rows).out).toEqual([0, 1, 1, 1, 0, 1, 0]);
    expect(judge({ fromAzimuthDeg: 350, toAzimuthDeg: 10 }, rows, 2).out).toEqual([1, 1, 0, 1, 0]);
    expect(judge({ fromAzimuthDeg: 80, toAzimuthDeg: 100 }, rows).counts.rejected).toBe(0);
  });
});
