import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { LasFile } from '@longheron/formats/las';
import { buildCloud } from './index';

const [HEAD_BYTES, RECORD_BYTES, POINTS] = [227, 26, 400];
let folder: string;
beforeAll(async () => (folder = await mkdtemp(join(tmpdir(), 'colours-'))));
afterAll(() => rm(folder, { recursive: true }));

/** A LAS 1.2 file of point format 2, byte by byte after the standard. @param colour of a point, as it is written. */
function las(colour: (i: number) => [number, number, number]): Buffer {
  const out = Buffer.alloc(HEAD_BYTES + RECORD_BYTES * POINTS);
  out.write('LASF', 0, 'latin1');
  out.writeUInt8(1, 24);
  out.writeUInt8(2, 25);
  out.writeUInt16LE(HEAD_BYTES, 94);
  out.writeUInt32LE(HEAD_BYTES, 96);
  out.writeUInt8(2, 104);
  out.writeUInt16LE(RECORD_BYTES, 105);
  out.writeUInt32LE(POINTS, 107);
  out.writeUInt32LE(POINTS, 111);
  [131, 139, 147].forEach((at) => out.writeDoubleLE(0.001, at));
  // greatest and least of each axis
  [20, 0, 20, 0, 1, 0].forEach((v, k) => out.writeDoubleLE(v, 179 + 8 * k));
  for (let i = 0; i < POINTS; i++) {
    const o = HEAD_BYTES + RECORD_BYTES * i;
    out.writeInt32LE(1000 * (i % 20), o);
    out.writeInt32LE(1000 * Math.floor(i / 20), o + 4);
    out.writeUInt8(0b1001, o + 14);
    out.writeUInt8(i % 32, o + 15);
    colour(i).forEach((v, k) => out.writeUInt16LE(v, o + 20 + 2 * k));
  }
  return out;
}

async function built(name: string, colour: (i: number) => [number, number, number]) {
  const at = join(folder, name);
  await writeFile(`${at}.las`, las(colour));
  const files = {
    position: `${at}.p`,
    attributes: `${at}.a`,
    classes: `${at}.c`,
    order: `${at}.o`,
    colour: `${at}.rgb`,
  };
  const file = await LasFile.openPath(`${at}.las`);
  const cloud = await buildCloud(file, 1, 1, files, folder);
  await file.close();
  const order = new Uint32Array((await readFile(files.order)).buffer.slice(0));
  return { cloud, order, classes: await readFile(files.classes), colour: () => readFile(files.colour) };
}

it.each([
  [
    'of sixteen bits',
    (i: number): [number, number, number] => [257 * (i % 256), 65535 - 257 * (i % 256), 256 * 7 + 255],
  ],
  ['of eight bits', (i: number): [number, number, number] => [i % 256, 255 - (i % 256), 7]],
])('colours %s stand with their points, and leave classes as they are', async (name, colour) => {
  const got = await built(name.replaceAll(' ', '-'), colour);
  expect(got.cloud.coloured).toBe(true);
  const bytes = await got.colour();
  expect(bytes).toHaveLength(3 * POINTS);
  got.order.forEach((row, k) => {
    expect([...bytes.subarray(3 * k, 3 * k + 3)]).toEqual([row % 256, 255 - (row % 256), 7]);
    expect(got.classes[k]).toBe(row % 32);
  });
});

it('room for colours that was never filled makes no column', async () => {
  const got = await built('black', () => [0, 0, 0]);
  expect(got.cloud.coloured).toBe(false);
  expect(await readdir(folder)).not.toContain('black.rgb');
});
