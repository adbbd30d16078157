import { describe, expect, it } from 'vitest';
import { judgeScene } from './scenes';

describe('clouds of scenes of another making', () => {
  it.each([
    ['road', 2, 0.01, 0.03],
    ['flight', 2, 0.01, 0.03],
    ['south', 3, 0.01, 0.03],
    ['steep', 4, 0.03, 0.06],
    ['steep', 5, 0.03, 0.06],
  ] as const)('%s %i: strays, ground by both methods and the terrain grid are true', (kind, seed, most, maxII) => {
    const f = judgeScene(kind, seed, 0.35);
    expect(f.loneFound / f.lone).toBeGreaterThan(0.97);
    expect(f.goodLost / f.good).toBeLessThan(0.0006);
    for (const g of [f.triangles, f.cloth]) {
      expect((g.missed + g.taken) / (g.land + g.other)).toBeLessThan(most);
      expect(g.taken / g.other).toBeLessThan(maxII);
    }
    expect(f.grid.holes).toBe(0);
    expect(f.grid.amongNear / f.grid.among).toBeGreaterThan(0.95);
  });
});
