import { zipSync } from 'fflate';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { drawBlock, type TrueBlock } from '@longheron/site/blocks';
import compareBlocks from '../questions/compare-blocks';
import { OnFiles, type Ran } from '../test/onFiles';
import { CRS, camerasOf, marksOf, picksOf, positionsOf } from '../test/drawnBlock';

let files: OnFiles;
beforeAll(async () => {
  files = await OnFiles.create();
});
afterAll(() => files.remove());

const t = drawBlock({ seed: 14, lines: 4, ofLine: 6, points: 1100 });
const HALF = t.pictures.length / 2;
const ofHalf = (k: number) => t.pictures.slice(k * HALF, (k + 1) * HALF).map((p) => p.name);

/** A small photograph that says when it was taken. */
async function photo(minute: number): Promise<Uint8Array> {
  const grey = { create: { width: 12, height: 8, channels: 3 as const, background: '#777' } };
  const time = new Date(Date.UTC(2026, 5, 16, 9, minute))
    .toISOString()
    .slice(0, 19)
    .replace(/-/g, ':')
    .replace('T', ' ');
  const exif = { IFD0: { Model: 'drawn' }, IFD2: { DateTimeOriginal: time } };
  return new Uint8Array(await sharp(grey).withExif(exif).jpeg().toBuffer());
}
async function setOf(name: string, names: readonly string[], beginMinute: number): Promise<string> {
  const entries = await Promise.all(names.map(async (n, k) => [n, await photo(beginMinute + k)] as const));
  return files.put(name, zipSync(Object.fromEntries(entries), { level: 0 }));
}
/** Positions of some of the pictures alone. */
const placesOf = (of: TrueBlock, names: readonly string[]) =>
  positionsOf(of)
    .split('\n')
    .filter((l) => !/\.jpg,/.test(l) || names.includes(l.split(',')[0]))
    .join('\n');

async function run(
  inputs: { [role: string]: string[] },
  settings = {},
  of: TrueBlock = t,
  keeps = false,
): Promise<Ran<'block'>> {
  return files.run(
    'block',
    {
      picks: [await files.put('picks.csv', picksOf(of))],
      cameras: [await files.put('cameras.json', camerasOf(of))],
      marks: [await files.put('marks.csv', marksOf(of))],
      ...inputs,
    },
    { ties: false, ...settings },
    { crs: CRS, keeps },
  );
}
let sets: [string, string];
let places: [string, string];
beforeAll(async () => {
  sets = [await setOf('flight a.zip', ofHalf(0), 0), await setOf('flight b.zip', ofHalf(1), 90)];
  places = [await files.put('a.csv', placesOf(t, ofHalf(0))), await files.put('b.csv', placesOf(t, ofHalf(1)))];
});

describe('two flights as one block', () => {
  it('are what their pictures are together, and each is still there', async () => {
    const ran = await run({ photos: sets, positions: places });
    const all = await run({ positions: [await files.put('all.csv', positionsOf(t))] });
    const f = ran.content.figures;
    expect(f).toMatchObject({ images: 24, oriented: 24 });
    expect(f.sigma0).toBeCloseTo(all.content.figures.sigma0!, 9);
    expect(f.check_rmse_h_m).toBeCloseTo(all.content.figures.check_rmse_h_m!, 7);
    expect(all.content.figures.sessions).toBeUndefined();
    expect(f.sessions).toMatchObject([
      { number: 1, name: 'flight a', photographs: 12, oriented: 12, cameras: ['air'] },
      { number: 2, name: 'flight b', photographs: 12, oriented: 12, cameras: ['air'] },
    ]);
    // counted here once more: points that both halves show
    const by = t.points.map(() => [0, 0]);
    for (const s of t.seen) by[s.point][s.image < HALF ? 0 : 1]++;
    const both = by.filter(([a, b]) => a && b).length;
    const [{ joined, first_s, last_s, places_rms_m }] = f.sessions!;
    expect(joined[0].with).toBe(2);
    expect(joined[0].points / both).toBeGreaterThan(0.97);
    expect(last_s! - first_s!).toBe(11 * 60);
    expect(Math.max(...places_rms_m!)).toBeLessThan(0.1);
    expect(ran.content.pictures.find((p) => p.name === ofHalf(1)[2])).toMatchObject({ session: 2, order: 2 });
    expect(ran.notices.map((n) => n.code)).not.toContain('block-sessions-apart');
  });

  it('are one flight when only that is taken, to the last digit', async () => {
    const part = await run({ photos: sets, positions: places }, { sessions: '2' });
    const alone = await run(
      { photos: [sets[1]], positions: [places[1]] },
      {},
      { ...t, seen: t.seen.filter((s) => s.image >= HALF) },
    );
    expect(part.content.figures.images).toBe(12);
    const { sessions: a, ...figures } = part.content.figures;
    const { sessions: b, ...others } = alone.content.figures;
    expect(figures).toEqual(others);
    expect(a).toMatchObject([{ number: 2, name: 'flight b', joined: [] }]);
    expect(b).toMatchObject([{ number: 1, name: 'flight b' }]);
  });

  it('have a camera each where that is wanted', async () => {
    const ran = await run({ photos: sets, positions: places }, { apart: true });
    expect(Object.keys(ran.content.figures.cameras)).toEqual(['air, session 1', 'air, session 2']);
    const truth = t.pictures[0].lens.f;
    for (const c of Object.values(
      JSON.parse(await ran.text('cameras')).cameras as {
        [n: string]: { focal_px: number; sd: { focal_px: number }; body_serial: string };
      },
    )) {
      expect(Math.abs(c.focal_px - truth)).toBeLessThan(4 * c.sd.focal_px);
      expect(c.body_serial).toBe('C-1');
    }
  });

  it('have a shift each where that is wanted', async () => {
    const moved: TrueBlock = {
      ...t,
      places: t.places.map(([e, n, u], i): [number, number, number] => (i < HALF ? [e, n, u] : [e + 0.7, n, u])),
    };
    const off = await files.put('moved.csv', placesOf(moved, ofHalf(1)));
    const { figures } = (await run({ photos: sets, positions: [places[0], off] }, { shift: true })).content;
    expect(figures.shifts.map((s) => s.session)).toEqual(['flight a', 'flight b']);
    figures.shifts.forEach((s, k) => expect(Math.abs(s.de_m - 0.7 * k)).toBeLessThan(3 * s.sd_e_m));
  });

  it('are told apart within one set by the pause between them', async () => {
    const entries = t.pictures.map(async (p, k) => [p.name, await photo(k < HALF ? k : 60 + k)] as const);
    const one = await files.put('day.zip', zipSync(Object.fromEntries(await Promise.all(entries)), { level: 0 }));
    const { figures } = (await run({ photos: [one], positions: places })).content;
    expect(figures.sessions!.map((s) => [s.name, s.photographs])).toEqual([
      ['day, 1', 12],
      ['day, 2', 12],
    ]);
  });
});

describe('what does not fit', () => {
  const code = (c: string, more = {}) => expect.objectContaining({ code: c, ...more }) as Error;

  it('is named: the same photographs twice, a session that is none, a position in two lists', async () => {
    const again = await setOf('flight c.zip', ofHalf(1), 200);
    await expect(run({ photos: [...sets, again], positions: places })).rejects.toThrow(
      code('photos-doubled', { file: 'flight c.zip' }),
    );
    await expect(run({ photos: sets, positions: places }, { sessions: '1,3' })).rejects.toThrow(
      code('block-sessions', { remedy: 'There are 1 (flight a, 12 photographs), 2 (flight b, 12 photographs).' }),
    );
    await expect(run({ photos: sets, positions: [places[0], places[0]] })).rejects.toThrow(code('block-places-twice'));
  });

  it('is told: flights that no point joins', async () => {
    const alone: TrueBlock = { ...t, seen: t.seen.filter((s) => s.image < HALF === (s.point % 2 === 0)) };
    const ran = await run({ photos: sets, positions: places }, {}, alone);
    expect(ran.content.figures.sessions!.map((x) => x.joined[0].points)).toEqual([0, 0]);
    expect(ran.notices.find((n) => n.code === 'block-sessions-apart')?.text).toBe(
      'No point joins session 2 (flight b) to the first one.',
    );
  });
});

describe('two blocks', () => {
  const ask = (a: Ran<'block'>, b: Ran<'block'>) =>
    compareBlocks({ a: a.content, b: b.content, crs: CRS }, files.store, {}).then((r) => r.content);

  it('of one survey each agree at the marks within what they state', async () => {
    const [a, b] = [
      await run({ photos: sets, positions: places }, { sessions: '1' }, t, true),
      await run({ photos: sets, positions: places }, { sessions: '2' }, t, true),
    ];
    const { images, points } = await ask(a, b);
    expect(images).toEqual([]);
    expect(points.length).toBeGreaterThan(2);
    expect(points.every((p) => p.kind !== 'tie' || !/^tie \d/.test(p.point))).toBe(true);
    const off = points.flatMap((p) => p.d.map((v, k) => v / p.sd[k]));
    const size = Math.sqrt(off.reduce((s, v) => s + v * v, 0) / off.length);
    expect(size).toBeGreaterThan(0.6);
    expect(size).toBeLessThan(1.5);
    // the same block against itself, and the other way round
    const same = await ask(a, a);
    expect(same.images).toHaveLength(12);
    expect(Math.max(...same.images.flatMap((i) => [...i.d.map(Math.abs), i.turnDeg]))).toBeLessThan(1e-6);
    const back = await ask(b, a);
    expect(back.points.find((p) => p.point === points[0].point)!.d[0]).toBeCloseTo(-points[0].d[0], 9);
  });

  it('of which one was moved differ by that', async () => {
    const by = [0.3, -0.2, 0.1];
    const move = (p: readonly number[]) => p.map((v, k) => v + by[k]) as [number, number, number];
    const moved: TrueBlock = {
      ...t,
      places: t.places.map(move),
      given: t.given.map((g) => g && move(g)),
      points: t.points.map((p) => ({ ...p, at: move(p.at) })),
    };
    const all = { positions: [await files.put('all.csv', positionsOf(t))] };
    const there = { positions: [await files.put('there.csv', positionsOf(moved))] };
    const { images, points } = await ask(await run(there, {}, moved, true), await run(all, {}, t, true));
    expect([images.length, points.length]).toEqual([24, t.points.length]);
    for (const { d } of [...images, ...points]) expect(Math.hypot(...d)).toBeCloseTo(Math.hypot(...by), 2);
    for (const { turnDeg } of images) expect(turnDeg).toBeLessThan(0.001);
  });
});
