import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DEG } from '@longheron/core/frames';
import { type Trajectory } from '@longheron/core/trajectory';
import { openTrajectory, readTrajectory } from '.';

const HEAD = '# crs: EPSG:4937\n# source: Büro\ngps_week,gps_sow,lat_deg,lon_deg,h_ell_m,roll_deg,solution\n';
const row = (k: number) => `2423,${(1000 + k / 5).toFixed(6)},56.${k},9.5,4${k % 10}.25,${k % 3},fixed\n`;
const TEXT = HEAD + Array.from({ length: 40 }, (_, k) => row(k)).join('');
const bytes = (text: string) => new TextEncoder().encode(text);
const problem = async (text: string, piece?: number) => {
  try {
    await readTrajectory(bytes(text), 't.csv', piece);
  } catch (error) {
    const { code, place, remedy } = error as { code: string; place: string; remedy: string };
    return { code, place, remedy };
  }
  throw new Error('it was read');
};

describe('a trajectory in pieces', () => {
  let whole: Trajectory;
  beforeAll(async () => {
    whole = await readTrajectory(bytes(TEXT), 't.csv');
  });
  it('is the same wherever they end, in the middle of a number, a line end or a letter', async () => {
    expect(whole.sow).toHaveLength(40);
    expect(whole.latRad[7]).toBeCloseTo(56.7 * DEG, 12);
    expect(whole.source).toBe('Büro');
    for (const ends of ['\n', '\r\n', '\r'])
      for (let piece = 1; piece < 60; piece++)
        expect(await readTrajectory(bytes(TEXT.replaceAll('\n', ends)), 't.csv', piece)).toEqual(whole);
  });

  it('without a line end after the last row, with blank lines and comments between, has the same rows', async () => {
    expect(await readTrajectory(bytes(TEXT.slice(0, -1)), 't.csv', 11)).toEqual(whole);
    const lines = TEXT.split('\n');
    lines.splice(9, 0, '', '   ', '# in between: nothing');
    const { sow } = await readTrajectory(bytes(lines.join('\n')), 't.csv', 13);
    expect(sow).toEqual(whole.sow);
  });

  it('names a wrong value, a wrong line and a cut-off end by their lines, wherever pieces end', async () => {
    for (const piece of [7, 64, 1 << 20]) {
      expect(await problem(TEXT.replace('56.12,', '56.x,'), piece)).toMatchObject({
        code: 'trajectory-value',
        place: 'line 16, column lat_deg',
      });
      const short = TEXT.replace('2423,1002.000000,', '2423,');
      expect(await problem(short, piece)).toMatchObject({ code: 'trajectory-line', remedy: 'Correct the line.' });
      expect(await problem(TEXT.slice(0, -14), piece)).toMatchObject({
        code: 'trajectory-line',
        place: 'line 43',
        remedy: expect.stringContaining('cut off'),
      });
      expect((await problem(HEAD, piece)).code).toBe('trajectory-empty');
      expect((await problem('# nothing else\n', piece)).code).toBe('csv-header');
      expect(await problem(`${TEXT.slice(0, 200)}\0${TEXT.slice(201)}`, piece)).toMatchObject({ place: 'byte 201' });
    }
  });
});

describe('a trajectory from its file', () => {
  let folder: string;
  beforeAll(async () => {
    folder = await mkdtemp(join(tmpdir(), 'longheron-trajectory-'));
  });
  afterAll(() => rm(folder, { recursive: true, force: true }));

  it('is that of its bytes, also in UTF-16 and in an older encoding', async () => {
    const path = join(folder, 't.csv');
    await writeFile(path, TEXT);
    const whole = await readTrajectory(bytes(TEXT), 't.csv');
    expect(await openTrajectory(path, 't.csv')).toEqual(whole);
    await writeFile(path, Buffer.from(`\uFEFF${TEXT}`, 'utf16le'));
    expect(await openTrajectory(path, 't.csv')).toEqual(whole);
    await writeFile(path, Buffer.from(TEXT, 'latin1'));
    expect(await openTrajectory(path, 't.csv')).toEqual(whole);
    await writeFile(path, '');
    await expect(openTrajectory(path, 't.csv')).rejects.toMatchObject({ code: 'file-empty' });
  });
});
