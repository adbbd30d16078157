import { describe, expect, it } from 'vitest';
import { faultOf, usualOf } from '@longheron/contract/declare';
import { OPERATIONS } from '@longheron/contract/operations';
import { filledIn, PLATFORMS, type Platform } from './platforms';

describe('what is usual on a platform', () => {
  const usual = usualOf(OPERATIONS.place.settings);

  it.each(Object.keys(PLATFORMS) as Platform[])('%s: is filled in, keeps the rest, and can be computed with', (p) => {
    const { settings, said } = filledIn(p, { ...usual, minIntensity: 40 });
    expect(settings.minIntensity).toBe(40);
    expect(faultOf(OPERATIONS.place, settings, { trajectory: 1, returns: 1, mounting: 1 })).toBeUndefined();
    expect(said).toMatch(/^Filled in: shortest strip \d+ m, turning from \d+ ° a second/);
    // nothing is said twice
    expect(filledIn(p, settings).said).toBe('All of it was set so already.');
  });

  it('names limits with their units, and none as such', () => {
    expect(filledIn('aircraft', { ...usual, maxRangeM: 100 }).said).toBe(
      'Filled in: shortest strip 200 m, turning from 2 ° a second, wanted density 8 points/m², range from 30 m, range without an upper limit.',
    );
    expect(filledIn('tripod', usual).said).toContain('range from 0.5 m, range to 80 m');
  });
});
