import { describe, expect, it } from 'vitest';
import { drawSession } from '@longheron/site/sessions';
import { errorOf, judgeSession, solveDrawn } from './sessions';

describe('positions on sessions of another making', () => {
  it.each(['gps', 'galileo', 'south', 'north', 'older', 'jumps'] as const)(
    'of kind %s are fixed nearly always, and never wrongly',
    (kind) => {
      const f = judgeSession(kind, 7, { lengthS: 420 });
      expect(f.wrong + f.beyond).toBe(0);
      expect(f.fixed / f.epochs).toBeGreaterThan(0.97);
      expect(f.worstM).toBeLessThan(0.08);
    },
  );

  it('between walls, with slips, reflections and missing bands, are right or say that they are not', () => {
    for (const seed of [1, 2]) {
      const f = judgeSession('street', seed, { lengthS: 600 });
      expect(f.wrong).toBe(0);
      expect(f.beyond).toBeLessThan(0.02 * f.epochs);
      expect(f.fixed / f.epochs).toBeGreaterThan(0.6);
    }
  });

  it('over 28 km are fixed to centimetres where the ionosphere is calm', () => {
    const f = judgeSession('long', 13, { lengthS: 1300 });
    expect(f.wrong + f.beyond).toBe(0);
    expect(f.lateFixed).toBeGreaterThan(0.8);
    expect(f.planM).toBeLessThan(0.03);
    expect(f.heightM).toBeLessThan(0.06);
  });

  it('with one band are honest, fixed or not', () => {
    const f = judgeSession('oneband', 3, { lengthS: 900 });
    expect(f.wrong + f.beyond).toBe(0);
    expect(f.floatM).toBeLessThan(0.3);
  });

  it('survive a slip of 1409 cycles on a band that was away for some seconds', () => {
    const session = drawSession('open', 5, {
      lengthS: 300,
      mishaps: { ...drawSession('open', 5).strengths.mishaps, slipsPerHour: 0, missingPerHour: 0 },
    });
    const { rover } = session;
    const seen = new Map<number, number>();
    for (let k = 0; k < rover.satellite.length; k++)
      seen.set(rover.satellite[k], (seen.get(rover.satellite[k]) ?? 0) + 1);
    // the satellite that is seen most
    const most = [...seen].sort((a, b) => b[1] - a[1])[0][0];
    for (let epoch = 0; epoch < rover.sow.length; epoch++) {
      const t = rover.sow[epoch] - rover.sow[0];
      for (let row = rover.start[epoch]; row < rover.start[epoch + 1]; row++) {
        if (rover.satellite[row] !== most) continue;
        const at = row * rover.width + 4;
        if (t >= 150 && t < 154) rover.values[at] = rover.values[at - 1] = Number.NaN;
        else if (t >= 154) rover.values[at] += 1409;
      }
    }
    const { epochs } = solveDrawn(session);
    const after = epochs.filter((e) => e.sow - rover.sow[0] > 140);
    for (const e of after) expect(Math.hypot(...errorOf(session, e).enu)).toBeLessThan(0.06);
    expect(after.every((e) => e.solution === 'fixed')).toBe(true);
  });
});
