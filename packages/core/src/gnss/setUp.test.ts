import { expect, it } from 'vitest';
import { overMarker, underAntenna } from '.';

it('an antenna stands up, east and north of its marker by what the header says', () => {
  // on the equator at Greenwich x is up, y east, z north
  const mark = [6378137, 0, 0];
  expect(Array.from(overMarker(mark, [1.5, 0.2, -0.3]))).toEqual(
    [6378138.5, 0.2, -0.3].map((v) => expect.closeTo(v, 9)),
  );
  const far = [3500000, 700000, 5270000];
  const back = underAntenna(overMarker(far, [1.5, 0.2, -0.3]), [1.5, 0.2, -0.3]);
  // the vertical at the antenna is that of the marker to a ten-millionth
  far.forEach((v, k) => expect(back[k]).toBeCloseTo(v, 6));
});
