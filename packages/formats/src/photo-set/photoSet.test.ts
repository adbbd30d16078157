import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { zipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readCameras } from '../cameras';
import { inspectFile } from '../registry';
import { openPhotoSet, readPhotoPositions } from '.';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'longheron-photos-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));
const bytes = (text: string) => new TextEncoder().encode(text);
const put = async (name: string, data: Uint8Array) => {
  await writeFile(join(folder, name), data);
  return join(folder, name);
};

describe('a set of photographs', () => {
  it('is the JPEG files of an archive by their names, whatever folder they lie in', async () => {
    const files = {
      'day/b.jpg': bytes('bbb'),
      'day/a.JPEG': bytes('a'),
      '__MACOSX/._b.jpg': bytes('x'),
      'list.txt': bytes(''),
    };
    const set = await openPhotoSet(await put('s.zip', zipSync(files)));
    expect(set.map((p) => p.name)).toEqual(['a.JPEG', 'b.jpg']);
    expect(new TextDecoder().decode(await set[1].bytes())).toBe('bbb');
  });

  it('is refused where names lead outside, or nothing is there', async () => {
    const out = await put('out.zip', zipSync({ '../evil.jpg': bytes('x') }));
    await expect(openPhotoSet(out)).rejects.toMatchObject({ code: 'photos-zip', place: '../evil.jpg' });
    await expect(openPhotoSet(join(folder, 'absent'))).rejects.toMatchObject({ code: 'file-open' });
    await expect(openPhotoSet(await put('no.zip', bytes('PK\u0003\u0004 no archive')))).rejects.toMatchObject({
      code: 'photos-zip',
    });
  });

  it('of the same name in two folders is said at import, with what to do', async () => {
    const path = await put('twice.zip', zipSync({ 'day 1/p_001.jpg': bytes('a'), 'day 2/P_001.jpg': bytes('bb') }));
    const { findings } = await inspectFile(path, 'twice.zip');
    expect(findings.find((f) => f.code === 'photos-twice')).toMatchObject({
      severity: 'error',
      text: expect.stringMatching(/^1 photograph has the same name as another: /),
      remedy: expect.stringContaining('its own name'),
    });
  });

  it('that claims more than can be believed is not unpacked', async () => {
    const zip = zipSync({ 'a.jpg': new Uint8Array(100) });
    // the size that the directory claims, 24 bytes into its entry
    const at = zip.findIndex((_, i) => zip[i] === 0x50 && zip[i + 1] === 0x4b && zip[i + 2] === 1 && zip[i + 3] === 2);
    new DataView(zip.buffer, zip.byteOffset).setUint32(at + 24, 0xf0000000, true);
    await expect(openPhotoSet(await put('bomb.zip', zip))).rejects.toMatchObject({
      code: 'photos-zip',
      place: 'a.jpg',
    });
  });
});

describe('positions of photographs', () => {
  const HEAD = 'label,gps_week,gps_sow,lat_deg,lon_deg,h_ell_m,roll_deg,pitch_deg,heading_deg';
  it('have angles, or the quaternion of an adjustment', () => {
    const read = readPhotoPositions(
      bytes(`# crs: EPSG:4937\n# point: camera\n${HEAD}\n"a, b.jpg",2423,10.5,56,8,290,0,0,90\nc.jpg,2423,11,,,,,,\n`),
      'p.csv',
    );
    expect(read).toMatchObject({ point: 'camera', crs: 'EPSG:4937', oriented: false, without: ['c.jpg'] });
    expect(read.rows[0]).toMatchObject({ image: 'a, b.jpg', hEllM: 290, gpsS: 2423 * 604_800 + 10.5 });
    // heading 90: the axis ahead points east
    [0, -1, 0, 1, 0, 0, 0, 0, 1].forEach((v, i) => expect(read.rows[0].rotation![i]).toBeCloseTo(v, 12));
    const s = Math.SQRT1_2;
    const block = readPhotoPositions(
      bytes(`image,camera,lat_deg,lon_deg,h_ell_m,qw,qx,qy,qz\nd.jpg,air,56,8,290,${2 * s},0,0,${2 * s}\n`),
      'o.csv',
    );
    expect(block.oriented).toBe(true);
    expect(block.rows[0].camera).toBe('air');
    block.rows[0].rotation!.forEach((v, i) => expect(v).toBeCloseTo(read.rows[0].rotation![i], 12));
  });

  it('are refused by line and column', () => {
    const line = (cells: string) => () => readPhotoPositions(bytes(`# a\n${HEAD}\n${cells}\n`), 'p.csv');
    expect(line('a.jpg,2423,1,56,8,high,0,0,0')).toThrow(
      expect.objectContaining({ file: 'p.csv', place: 'line 3, column h_ell_m' }),
    );
    expect(line('a.jpg,2423,1,156,8,3,0,0,0')).toThrow(/no place on Earth/);
    expect(() => readPhotoPositions(bytes('a,b\n1,2\n'), 'p.csv')).toThrow(
      expect.objectContaining({ place: 'header line' }),
    );
  });
});

describe('cameras', () => {
  it('have the middle of their picture and no distortion where nothing is said', () => {
    const [camera] = readCameras(
      bytes('{"cameras":{"air":{"width_px":1200,"height_px":800,"focal_px":1480,"body_serial":"C-1"}}}'),
      'c.json',
    );
    expect(camera).toMatchObject({ name: 'air', cxPx: 599.5, cyPx: 399.5, k1: 0, p2: 0, bodySerial: 'C-1' });
  });

  it('are refused by member', () => {
    const place = (json: string, at: string) =>
      expect(() => readCameras(bytes(json), 'c.json')).toThrow(expect.objectContaining({ file: 'c.json', place: at }));
    place('{', 'text');
    place('{"cameras":{}}', 'cameras');
    place('{"cameras":{"a":3}}', 'cameras.a');
    place('{"cameras":{"a":{"width_px":0,"height_px":8,"focal_px":9}}}', 'cameras.a.width_px');
  });
});
