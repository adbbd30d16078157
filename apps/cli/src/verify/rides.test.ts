import { expect, it } from 'vitest';
import { judgeRide } from './rides';

/** Drawn rides of a kind put together: errors over their deviations, and what must not be. */
function pooled(kind: Parameters<typeof judgeRide>[0], seeds: number[]) {
  const all = seeds.map((seed) => judgeRide(kind, seed, { lengthS: 420 }));
  const rows = all.reduce((s, f) => s + f.rows, 0);
  return {
    wrong: all.reduce((s, f) => s + f.wrong + f.beyond, 0),
    worstM: Math.max(...all.map((f) => f.worstM)),
    over: [0, 1, 2, 3, 4, 5].map((k) => Math.sqrt(all.reduce((s, f) => s + f.shares[k], 0) / rows)),
  };
}

it.each([
  ['vehicle', [2, 9]],
  ['aircraft', [3, 4]],
  ['boat', [1, 8]],
  ['outages', [1, 2]],
] as const)('units fine and coarse on a drawn ride (%s) are believed as far as they are good', (kind, seeds) => {
  const { wrong, over, worstM } = pooled(kind, [...seeds]);
  expect(wrong).toBe(0);
  expect(worstM).toBeLessThan(kind === 'outages' ? 1 : 0.15);
  // two short rides: only gross mistakes of the deviations show
  for (const v of over) {
    expect(v).toBeGreaterThan(0.3);
    expect(v).toBeLessThan(2.2);
  }
});
