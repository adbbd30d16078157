import { describe, expect, it } from 'vitest';
import { matchPhotos } from '.';

const GPS = 1466000000;
// uneven steps, so that a shift by one shows
const events = [0, 4.2, 9.1, 13.3, 19.8, 22.4, 29.9, 33.1].map((s) => GPS + s);
const photo = (s: number, k: number) => ({ name: `P${k}.jpg`, takenS: Math.floor(s + 5000.37) });

describe('events and photographs', () => {
  it('go together by their times, whatever the camera’s clock shows', () => {
    const m = matchPhotos(events, events.map(photo));
    expect(m.by).toBe('times');
    expect(m.pairs.map((p) => [p.event, p.photo])).toEqual(events.map((_, k) => [k, k]));
    // clocks cut to whole seconds are half a second behind on the whole
    expect(Math.abs(m.clockS - 5000.37)).toBeLessThan(1);
  });
  it('are not shifted by a stray event at the start and a photograph that was lost', () => {
    const m = matchPhotos([GPS - 31.7, ...events], events.filter((_, k) => k !== 3).map(photo));
    expect(m.eventsAlone).toEqual([0, 4]);
    expect(m.photosAlone).toEqual([]);
    expect(m.pairs.length).toBe(7);
    expect(m.pairs.every((p) => p.event === (p.photo < 3 ? p.photo + 1 : p.photo + 2))).toBe(true);
  });
  it('a second apart or less are not shifted by one that was lost in the middle, nor by clocks cut to seconds', () => {
    const even = (stepS: number) => Array.from({ length: 30 }, (_, k) => GPS + k * stepS);
    const exact = (t: number, k: number) => ({ name: `P${k}.jpg`, takenS: t + 2.4 });
    const lost = matchPhotos(
      even(1),
      even(1)
        .filter((_, k) => k !== 7)
        .map(exact),
    );
    expect(lost.eventsAlone).toEqual([7]);
    expect(lost.clockS).toBeCloseTo(2.4, 6);
    expect(lost.pairs.every((p) => Math.abs(p.offS) < 1e-6)).toBe(true);
    // clocks cut to seconds, an event lost instead: its photograph stays alone
    const gone = matchPhotos(
      even(1.5).filter((_, k) => k !== 12),
      even(1.5).map(photo),
    );
    expect(gone.photosAlone).toEqual([12]);
    expect(gone.pairs.every((p) => p.event === (p.photo < 12 ? p.photo : p.photo - 1))).toBe(true);
    const cut = matchPhotos(even(0.8), even(0.8).map(photo));
    expect(cut.pairs.map((p) => [p.event, p.photo])).toEqual(even(0.8).map((_, k) => [k, k]));
  });
  it('go together by order without times only when there are as many of both', () => {
    const names = events.map((_, k) => ({ name: `P${k}`, takenS: NaN }));
    expect(matchPhotos(events, names).by).toBe('order');
    const less = matchPhotos(events, names.slice(1));
    expect(less.pairs).toEqual([]);
    expect(less.eventsAlone.length).toBe(8);
    expect(less.photosAlone.length).toBe(7);
  });
});
