import { createHash } from 'node:crypto';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DEG, EGM96 } from '@longheron/core/frames';
import { lookForGridsIn } from '@longheron/formats/crs';
import { describeReference } from '../systems';
import { areaFinding, frameFinding, gridFinding, type Site } from './frameFindings';

const SITE: Site = { latDeg: 56.08, lonDeg: 8.47, hEllM: 45, crs: 'EPSG:4937', epoch: 2026.45, file: 'drive.csv' };
const line = (horizontal: number) => describeReference({ horizontal, vertical: 0, unit: 'metre', time: 'gps' });

/** A GTX grid of one undulation. */
function gtx(south: number, west: number, undulation: number): Uint8Array {
  const v = new DataView(new ArrayBuffer(40 + 4 * 9));
  [south, west, 1, 1].forEach((x, k) => v.setFloat64(8 * k, x));
  v.setInt32(32, 3);
  v.setInt32(36, 3);
  for (let k = 0; k < 9; k++) v.setFloat32(40 + 4 * k, undulation);
  return new Uint8Array(v.buffer);
}
let store: string;
beforeAll(() => {
  store = mkdtempSync(join(tmpdir(), 'longheron-grids-'));
  lookForGridsIn(store);
});
afterAll(() => rmSync(store, { recursive: true }));
/** Puts a grid where the store has it. */
function kept(bytes: Uint8Array): string {
  const sha = createHash('sha256').update(bytes).digest('hex');
  mkdirSync(join(store, sha.slice(0, 2)), { recursive: true });
  writeFileSync(join(store, sha.slice(0, 2), sha), bytes);
  return sha;
}
const judged = (bytes: Uint8Array) => gridFinding('geoid', 'g.gtx', kept(bytes), SITE);

describe('mistakes with grids, zones and frames are noticed with their amount', () => {
  const n = EGM96.undulation(SITE.latDeg * DEG, SITE.lonDeg * DEG);
  it('a grid of this country is none; one of the other sign, or of another country, is', () => {
    expect(judged(gtx(55, 7, n + 0.4))).toBeUndefined();
    expect(judged(gtx(55, 7, -n))).toMatchObject({
      code: 'geoid-off',
      text: expect.stringMatching(/is -?\d+\.\d m, by EGM96 \d+\.\d m: it has the other sign/),
      effect: `Heights above it would be off by ${(2 * n).toFixed(1)} m.`,
    });
    expect(judged(gtx(55, 7, n - 20))?.effect).toBe('Heights above it would be off by 20.0 m.');
    expect(judged(gtx(45, 7, 50))).toMatchObject({
      code: 'grid-elsewhere',
      text: expect.stringContaining('it covers 45.000° to 47.000°'),
    });
  });

  it('a zone far from the data is, whatever a file says', () => {
    expect(areaFinding(SITE, line(25832))).toBeUndefined();
    // zone 33 begins at 12° east: 3.53° of longitude at 56.08° north
    const found = areaFinding(SITE, line(25833))!;
    expect(found.code).toBe('system-area');
    expect(Number(/(\d+) km outside/.exec(found.text)![1])).toBe(Math.round(111.195 * 3.53 * Math.cos(56.08 * DEG)));
  });

  it('a trajectory in an international frame is, by the way that the plate has gone', () => {
    expect(frameFinding(SITE, line(25832))).toBeUndefined();
    const found = frameFinding({ ...SITE, crs: 'EPSG:7912' }, line(25832))!;
    // 37.45 years at some 2.5 cm
    const cm = Number(/: (\d+) cm apart/.exec(found.text)![1]);
    expect(cm).toBeGreaterThan(80);
    expect(cm).toBeLessThan(100);
    expect(frameFinding({ ...SITE, crs: 'EPSG:9989' }, line(32632))).toBeUndefined();
    expect(frameFinding({ ...SITE, crs: null }, line(25832))).toBeUndefined();
  });
});
