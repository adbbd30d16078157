import { describe, expect, it } from 'vitest';
import { type Preview } from '../../mapData';
import { lengthsByBand, weakStretches } from './judge';
import { type Sky } from '../sky';

/** Ten seconds east at 2 m/s; weak from the fourth to the sixth second. */
const time = Array.from({ length: 11 }, (_, k) => 1000 + k);
const worstSdM = time.map((_, k) => (k >= 4 && k <= 6 ? 0.05 : 0.01));
const preview: Preview = {
  startGps: 1000,
  endGps: 1010,
  epochs: 11,
  time,
  worstSdM,
  statistics: [],
  eastingM: time.map((_, k) => 2 * k),
  northingM: time.map(() => 0),
  columns: {
    'SD down': { unit: 'm', min: time.map(() => 0.02), max: time.map((_, k) => (k === 5 ? 0.09 : 0.02)) },
    Satellites: { unit: '', min: time.map((_, k) => (k === 5 ? 5 : 14)), max: time.map(() => 14) },
  },
};
const sky = {
  solution: [
    { from: 1000, to: 1003, kind: 1 },
    { from: 1004, to: 1006, kind: 2 },
  ],
} as unknown as Sky;

describe('the judgement on a trajectory', () => {
  it('names where it is weak, how long, how much, and why', () => {
    const [weak, ...more] = weakStretches(preview, sky, 0.03, [1000, 1010]);
    expect(more).toEqual([]);
    expect([weak.from, weak.to, weak.lengthM, weak.worstM]).toEqual([1004, 1006, 6, 0.09]);
    expect(weak.why).toBe('float, down to 5 satellites');
    expect(weakStretches(preview, sky, 0.03, [1007, 1010])).toEqual([]);
  });
  it('adds the length of path up by precision: height counts as well', () => {
    // 20 m of way: the deviation down of 2 cm puts the good part into the second band
    expect(lengthsByBand(preview, [0.015, 0.03], [1000, 1010])).toEqual([0, 14, 6]);
  });
});
