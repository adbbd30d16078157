import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DEG, parseMounting } from '@longheron/core/frames';
import { parseSystem } from '@longheron/formats/crs';
import { positionEvents, writeFootprints } from './events';

const SPEED_MPS = 50;
const ABOVE_M = 250;
let folder: string;
const at = (name: string) => join(folder, name);
const system = parseSystem('EPSG:25832');

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'lh-footprints-'));
  // along grid north on the central meridian, where grid and true north agree
  const rows = ['gps_week,gps_sow,lat_deg,lon_deg,h_ell_m,roll_deg,pitch_deg,heading_deg'];
  const geo = new Float64Array(3);
  for (let t = 0; t <= 20; t += 0.5) {
    system.unproject(500000, 6200000 + SPEED_MPS * t, ABOVE_M, geo);
    rows.push(`2423,${t.toFixed(1)},${(geo[0] / DEG).toFixed(10)},${(geo[1] / DEG).toFixed(10)},${ABOVE_M},0,0,0`);
  }
  await writeFile(at('path.csv'), `# crs: EPSG:4937\n# point: imu\n${rows.join('\n')}\n`);
  const times = [2, 3, 4, 5, 6, 14, 15].map((t) => `2423,${t},`);
  await writeFile(at('events.csv'), `gps_week,gps_sow,label\n${times.join('\n')}\n`);
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const camera = { focal_length_mm: 35, sensor_mm: [36, 24], pixels: [7200, 4800], looks: 'down' };
const ask = (more: object, sensors: object = { camera: { lever_arm_m: [0, 0, 0], camera } }) =>
  positionEvents({
    trajectoryPath: at('path.csv'),
    eventsPath: at('events.csv'),
    sensor: 'camera',
    leaveOutStrays: false,
    mounting: parseMounting({ sensors }),
    outPath: at('out.csv'),
    ...more,
  });

describe('footprints of a flight', () => {
  it('overlap as height, frame and distance say, and gaps are named', async () => {
    const { ground, written, report } = await ask({ ground: { system, groundM: 0, farthestM: 1000 } });
    const alongM = (24 / 35) * ABOVE_M;
    const acrossM = (36 / 35) * ABOVE_M;
    const [first] = ground!.footprints;
    // the scale of the grid on the central meridian is 0.9996
    expect(first!.corners[1][0] - first!.corners[0][0]).toBeCloseTo(acrossM, 3);
    expect(first!.corners[0][1]).toBeCloseTo(6200000 + 2 * SPEED_MPS + alongM / 2, 2);
    expect(ground!.next[0]).toBeCloseTo(1 - SPEED_MPS / alongM, 4);
    expect(ground!.next[4]).toBe(0);
    expect(ground!.figures).toMatchObject({ footprints: 7, footprints_cut: 0, overlap_gaps: 1 });
    expect(ground!.figures.ground_sample_m).toBeCloseTo((ABOVE_M * 0.005) / 35, 9);
    expect(report.notices.find((n) => n.code === 'events-overlap')!.text).toContain('first that of event 5');
    await writeFootprints(at('areas.geojson'), written, ground!, system);
    const json = JSON.parse(await readFile(at('areas.geojson'), 'utf8')) as {
      features: Array<{ geometry: { coordinates: number[][][] }; properties: { overlap_next: number | null } }>;
    };
    expect(json.features).toHaveLength(7);
    expect(json.features[0].geometry.coordinates[0]).toHaveLength(5);
    expect(json.features[6].properties.overlap_next).toBeNull();
  });

  it('need a camera, and ground below it', async () => {
    await expect(
      ask({ ground: { system, groundM: 0, farthestM: 1000 } }, { camera: { lever_arm_m: [0, 0, 0] } }),
    ).rejects.toThrow(/says nothing of the camera/);
    const { report } = await ask({ ground: { system, groundM: 900, farthestM: 1000 } });
    expect(report.notices.map((n) => n.code)).toContain('events-no-ground');
    expect(() => parseMounting({ sensors: { c: { lever_arm_m: [0, 0, 0], camera: { focal_length_mm: 0 } } } })).toThrow(
      /focal_length_mm must be millimetres above zero/,
    );
  });
});
