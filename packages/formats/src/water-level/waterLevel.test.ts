import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { inspectFile } from '../registry';
import { readWaterLevel } from '.';

const folder = mkdtempSync(join(tmpdir(), 'lh-level-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const HEAD = '# above: Reach datum\n# datum_ell_m: 38.214\ngps_week,gps_sow,level_m\n';
const read = (text: string) => readWaterLevel(new TextEncoder().encode(text), 'gauge.csv');

describe('levels at a gauge', () => {
  it('are read with their datum', () => {
    const { above, datumEllM, sow, levelM } = read(`${HEAD}2423,10,0.512\n2423,610,-0.03\n`);
    expect([above, datumEllM, [...sow], [...levelM]]).toEqual(['Reach datum', 38.214, [10, 610], [0.512, -0.03]]);
    expect(read('gps_week,gps_sow,level_m\n').datumEllM).toBeNull();
  });

  it('are inspected with span and range; a datum that is not named is noticed', async () => {
    const path = join(folder, 'gauge.csv');
    writeFileSync(path, `gps_week,gps_sow,level_m\n2423,10,0.512\n2423,610,-0.03\n`);
    const facts = await inspectFile(path, 'gauge.csv');
    expect([facts.kind, facts.count, facts.endGps! - facts.startGps!]).toEqual(['water-level', 2, 600]);
    expect(facts.details).toContainEqual(['Lowest', '-0.030 m']);
    expect(facts.findings.map((f) => f.code)).toEqual(['water-datum']);
  });

  it.each([
    ['gps_week,gps_sow\n', /column level_m is missing/, 'header line'],
    [`${HEAD}2423,10,high\n`, /level_m is "high": no level/, 'line 4, column level_m'],
    [`${HEAD}2423,10,512\n`, /level_m is "512": no level/, 'line 4, column level_m'],
    [`${HEAD}2423,,0.5\n`, /gps_sow is "": not a number/, 'line 4, column gps_sow'],
    [`${HEAD}2423,10,0.5\n2423,10,0.6\n`, /not later than the one before/, 'line 5, column gps_sow'],
    [HEAD.replace('38.214', 'high'), /datum_ell_m is "high"/, 'comment datum_ell_m'],
  ])('refuse %j', (text, words, place) => {
    expect(() => read(text)).toThrow(words);
    try {
      read(text);
    } catch (e) {
      expect((e as { place: string }).place).toBe(place);
    }
  });
});
