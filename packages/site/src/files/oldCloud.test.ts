import { expect, it } from 'vitest';
import { memorySource } from '@longheron/formats/bytes';
import { crsCodesOf, LasFile } from '@longheron/formats/las';
import { groundAt } from '../terrain';
import { oldCloud, OLD_CLOUD_STRAY_SHARE } from './oldCloud';

it('is a LAS 1.2 file of the ground with 0.3 % strays, and says its system by GeoTIFF keys', async () => {
  const file = await LasFile.open(memorySource(oldCloud(1, 100, 300), 'old.las'));
  expect([file.header.version, file.header.pointFormat]).toEqual([[1, 2], 0]);
  expect(crsCodesOf(file.header)).toEqual({ horizontal: 25832, vertical: 5773 });
  const p = await file.readAll();
  const [sx, sy, sz] = file.header.scale;
  let strays = 0;
  let squares = 0;
  for (let i = 0; i < p.count; i++) {
    const off = p.z[i] * sz - groundAt(p.x[i] * sx, p.y[i] * sy);
    if (Math.abs(off) > 0.5) strays++;
    else squares += off * off;
  }
  expect(p.count).toBeGreaterThan(50_000);
  // within three deviations of a binomial share
  const expected = OLD_CLOUD_STRAY_SHARE * p.count;
  expect(Math.abs(strays - expected)).toBeLessThan(3 * Math.sqrt(expected));
  expect(Math.sqrt(squares / (p.count - strays))).toBeCloseTo(0.03, 2);
  const span = file.header.max[2] - file.header.min[2];
  expect(span).toBeGreaterThan(60);
});
