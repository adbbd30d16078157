import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { inspectFile } from '../registry';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'longheron-positions-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));
const HEAD = 'label,gps_week,gps_sow,lat_deg,lon_deg,h_ell_m,roll_deg,pitch_deg,heading_deg,sd_n_m,sd_e_m,sd_d_m\n';
const inspect = async (name: string, text: string) => {
  await writeFile(join(folder, name), text);
  return inspectFile(join(folder, name), name);
};
const row = (name: string, lat: number, sd = '0.01,0.01,0.02') =>
  `${name},2423,${lat},56.${lat},8.5,290,0,0,90,${sd}\n`;

describe('a list of positions', () => {
  it('is no trajectory: it has labels, and says what it is of and where', async () => {
    const f = await inspect(
      'p.csv',
      `# crs: EPSG:4937\n# point: camera\n${HEAD}${row('a.jpg', 11)}${row('b.jpg', 12)}c.jpg,2423,13,,,,,,,,,\n`,
    );
    expect([f.kind, f.count, f.findings]).toEqual(['positions', 2, []]);
    expect(f.details).toEqual([
      ['Of', 'camera'],
      ['Attitudes', 'given'],
      ['Precision', 'given'],
      ['Without a position', '1'],
    ]);
    expect(f.extent!.crs).toBe('geographic');
    expect(f.extent!.min[1]).toBeCloseTo(56.11, 9);
    expect(f.endGps! - f.startGps!).toBeCloseTo(1, 9);
    // without labels it is one
    const t = await inspect('t.csv', 'gps_week,gps_sow,lat_deg,lon_deg,h_ell_m\n2423,1,56,8,3\n2423,2,56.0001,8,3\n');
    expect(t.kind).toBe('trajectory');
  });

  it('in which all have the place of the launch, or some stand twice, is noticed', async () => {
    const same = await inspect(
      's.csv',
      HEAD + row('a.jpg', 11) + row('b.jpg', 11) + row('c.jpg', 11) + row('c.jpg', 11),
    );
    expect(same.findings.map((n) => n.code)).toEqual(['positions-same', 'positions-twice', 'positions-crs']);
  });
});
