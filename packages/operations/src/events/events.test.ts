import { readFile } from 'node:fs/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DEG } from '@longheron/core/frames';
import { parseSystem } from '@longheron/formats/crs';
import { OnFiles, trajectoryText } from '../test/onFiles';

/** A drive due grid north on the zone's meridian, 10 m/s for 40 s, level; an event every second from 5 to 30 s. */
const CRS = 'EPSG:25832';
const system = parseSystem(CRS);
const T0 = 205_000;
const path = (head?: string) => {
  const geo = new Float64Array(3);
  const rows = Array.from({ length: 401 }, (_, k) => {
    system.unproject(500_000, 6_215_000 + k, 50, geo);
    return { sow: T0 + k / 10, latDeg: geo[0] / DEG, lonDeg: geo[1] / DEG, hM: 50 };
  });
  return trajectoryText(rows, head);
};
const events = (times: number[]) =>
  `gps_week,gps_sow,label\n${times.map((t, k) => `2423,${(T0 + t).toFixed(3)},E${k}\n`).join('')}`;
const SERIES = Array.from({ length: 26 }, (_, k) => 5 + k);
const MOUNT = {
  gnss: { lever_arm_m: [0, 0, -1] },
  sensors: {
    camera: {
      lever_arm_m: [0.5, 0.2, -1.5],
      camera: { focal_length_mm: 35, sensor_mm: [36, 24], pixels: [7200, 4800], looks: 'forward' },
    },
    bare: { lever_arm_m: [0, 0, 0] },
  },
};

let files: OnFiles;
let base: { trajectory: string[]; events: string[] };
let mounting: string[];
beforeAll(async () => {
  files = await OnFiles.create();
  base = {
    trajectory: [await files.put('path.csv', path())],
    events: [await files.put('events.csv', events(SERIES))],
  };
  mounting = [await files.put('mount.json', JSON.stringify(MOUNT))];
});
afterAll(() => files.remove());
const run = (settings = {}, more: { [role: string]: string[] } = {}) =>
  files.run('events', { ...base, ...more }, settings, { keeps: true, crs: CRS });
interface Row {
  xyz: number[] | null;
  kept: boolean;
  stray: boolean;
  photo: string | null;
  offS: number | null;
  reason: string;
  footprint: number[][] | null;
}
const rowsOf = async (table: string) => JSON.parse(await readFile(files.path(table), 'utf8')) as Row[];

describe('events along a trajectory', () => {
  it('lie where the platform was, or its sensor', async () => {
    const own = await run();
    expect(own.content.point).toBe('imu');
    const rows = await rowsOf(own.content.table);
    expect(rows).toHaveLength(26);
    expect(rows[0].xyz![0]).toBeCloseTo(500_000, 3);
    expect(rows[0].xyz![1]).toBeCloseTo(6_215_050, 3);
    const sensor = await rowsOf((await run({ sensor: 'camera' }, { mounting })).content.table);
    // half a metre ahead, 20 cm to the right, 1.5 m up; on the meridian the grid is 0.4 per mille short
    expect(sensor[0].xyz![0] - rows[0].xyz![0]).toBeCloseTo(0.2, 3);
    expect(sensor[0].xyz![1] - rows[0].xyz![1]).toBeCloseTo(0.5, 3);
    expect(sensor[0].xyz![2] - rows[0].xyz![2]).toBeCloseTo(1.5, 3);
    const csv = (await own.text('positions')).split('\n');
    expect(csv.filter((l) => l.startsWith('E'))).toHaveLength(26);
  });

  it('outside of it have no place, strays are left out or kept as is wanted', async () => {
    const times = [await files.put('more.csv', events([0, ...SERIES.map((t) => t + 5), 300]))];
    const { content, notices } = await run({}, { events: times });
    expect(content.figures).toMatchObject({ events: 28, events_outside: 1, positions: 26, events_stray: 2 });
    expect(notices.map((n) => n.code).sort()).toEqual(['events-outside', 'events-stray']);
    const kept = await run({ leaveOutStrays: false, leftOut: [{ event: 3, reason: 'blurred' }] }, { events: times });
    // all 28 but the one outside and the one that was left out by hand
    expect(kept.content.figures).toMatchObject({ positions: 26, events_left_out: 1 });
    const rows = await rowsOf(kept.content.table);
    expect([rows[3].kept, rows[27].xyz, rows[0].stray]).toEqual([false, null, true]);
    expect(rows[27].reason.length).toBeGreaterThan(3);
  });

  it('of another day, or without frame, sensor or camera are refused with the remedy', async () => {
    const other = [await files.put('other.csv', events([90_000, 90_001]))];
    await expect(run({}, { events: other })).rejects.toMatchObject({ code: 'events-outside', file: 'other.csv' });
    const bare = [await files.put('bare.csv', path('# point: imu\n'))];
    await expect(run({}, { trajectory: bare })).rejects.toMatchObject({ code: 'trajectory-crs', file: 'bare.csv' });
    expect((await run({ trajectoryCrs: 'EPSG:4937' }, { trajectory: bare })).content.figures.positions).toBe(26);
    await expect(run({ sensor: 'camera' })).rejects.toMatchObject({ place: 'mounting' });
    await expect(run({ sensor: 'lidar' }, { mounting })).rejects.toMatchObject({
      code: 'mounting-sensor',
      remedy: 'It has camera, bare.',
    });
    await expect(run({ sensor: 'bare', groundM: 45 }, { mounting })).rejects.toMatchObject({ code: 'events-camera' });
  });

  it('with a camera show what it sees of level ground', async () => {
    const { content, made, text } = await run({ sensor: 'camera', groundM: 45, farthestM: 60 }, { mounting });
    const rows = await rowsOf(content.table);
    expect(rows.every((r) => r.footprint!.length >= 4)).toBe(true);
    const ahead = Math.max(...rows[0].footprint!.map((c) => c[1]));
    expect(ahead - rows[0].xyz![1]).toBeLessThan(62);
    expect(ahead - rows[0].xyz![1]).toBeGreaterThan(50);
    expect(made.lines!.join(' ')).toMatch(/26 footprints on ground at 45 m/);
    expect((JSON.parse(await text('footprints')) as { features: unknown[] }).features).toHaveLength(26);
  });
});

describe('photographs', () => {
  const photos = async (name: string, rows: string[]) => [await files.put(name, `name,taken\n${rows.join('\n')}\n`)];
  /** GPS seconds as a camera writes them: UTC, its clock 2.4 s late. */
  const taken = (t: number) => new Date((315_964_800 + 2423 * 604_800 + T0 + t - 18 + 2.4) * 1000).toISOString();

  it('are paired by their times; one without event and one event without photograph are named', async () => {
    const rows = SERIES.filter((t) => t !== 12).map((t, k) => `P${k}.jpg,${taken(t)}`);
    rows.push(`late.jpg,${taken(500)}`);
    const { content, notices, made } = await run({}, { photos: await photos('photos.csv', rows) });
    expect(content.figures).toMatchObject({
      photos: 26,
      photos_paired: 25,
      photos_alone: ['late.jpg'],
      events_alone: 1,
    });
    expect(content.photosAlone).toEqual(['late.jpg']);
    expect(notices.map((n) => n.code).sort()).toEqual(['events-alone', 'photos-alone']);
    const table = await rowsOf(content.table);
    expect(table[0].photo).toBe('P0.jpg');
    expect(table[7].photo).toBeNull();
    expect(table[8].photo).toBe('P7.jpg');
    expect(made.lines![1]).toMatch(/25 of 26 photographs paired with an event, by their time/);
  });

  it('without times are paired by their order where the counts agree, and not at all where they do not', async () => {
    const names = SERIES.map((_, k) => `P${String(k).padStart(2, '0')}.jpg,`);
    const all = await run({}, { photos: await photos('order.csv', names) });
    expect(all.content.figures).toMatchObject({ photos_paired: 26 });
    const fewer = await run({}, { photos: await photos('fewer.csv', names.slice(2)) });
    expect(fewer.content.figures).toMatchObject({ photos_paired: 0 });
    expect(fewer.notices.map((n) => n.code)).toContain('photos-count');
  });
});
