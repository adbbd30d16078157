import { expect, it } from 'vitest';
import { toEtrs89, type InternationalFrame } from '.';

// a made-up place on the site, brought over by PROJ's Helmert operation with the published rates
it.each<[InternationalFrame, number, number[]]>([
  ['ITRF2020', 2026.46, [3512889.66952, 523123.137084, 5283271.577059]],
  ['ITRF2014', 2010, [3512889.426632, 523123.378888, 5283271.714615]],
])('brings %s of %d to ETRS89', (frame, epoch, expected) => {
  const found = toEtrs89([3512889.1, 523123.7, 5283271.9], frame, epoch);
  expected.forEach((v, k) => expect(found[k]).toBeCloseTo(v, 5));
});
