import { describe, expect, it } from 'vitest';
import { parseSystem } from '@longheron/formats/crs';
import { siteFlight } from '../files';
import { SITE_SYSTEM } from '../terrain';
import { airPhotos, AirTruth, drawAirPhoto } from '.';

describe('what the aircraft’s pictures show', () => {
  const system = parseSystem(SITE_SYSTEM);
  const flight = siteFlight(system);
  const photos = airPhotos(flight);
  const truth = new AirTruth(flight, system);

  it('a pixel’s place is seen at that pixel again, and elsewhere in the next picture', () => {
    for (const [u, v] of [
      [100, 80],
      [611.3, 402.7],
      [1150, 700],
    ]) {
      const place = truth.placeAt(photos[20], u, v);
      const [x, y] = truth.pixelOf(photos[20], place)!;
      expect(Math.hypot(x - u, y - v)).toBeLessThan(0.05);
    }
    const place = truth.placeAt(photos[20], 600, 300);
    const next = truth.pixelOf(photos[21], place)!;
    // 55 m on, at 0.17 m a pixel, the other way along the picture
    expect(Math.abs(next[1] - 300)).toBeGreaterThan(280);
    expect(truth.pixelOf(photos[60], [1000, 5000, 0])).toBeUndefined();
  });

  it('a picture drawn of it has the colours of its places', () => {
    // the edge between road and kerb: dark on one side, bright on the other, where the truth says so
    const rgb = drawAirPhoto(flight, system, photos[20], 1);
    const grey = (u: number, v: number) => rgb[3 * (Math.round(v) * 1200 + Math.round(u)) + 1];
    let [far, near] = [0, 0];
    for (let k = 0; k < 400; k++) {
      const [u, v] = [50 + 2.7 * k, 60 + 1.6 * k];
      const again = truth.pixelOf(photos[20], truth.placeAt(photos[20], u, v))!;
      near += Math.abs(grey(u, v) - grey(again[0], again[1]));
      far += Math.abs(grey(u, v) - grey(u + 9, v - 7));
    }
    expect(far).toBeGreaterThan(400);
    // a pixel beside now and then, by rounding
    expect(near).toBeLessThan(0.1 * far);
  });
});
