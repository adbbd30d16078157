import { describe, expect, it } from 'vitest';
import { photoListCsv, readExif } from '../exif';
import { readPhotoList } from '.';

/** A JPEG's head with an EXIF block, byte by byte after the standard. */
function jpeg(taken: string, little: boolean): Uint8Array {
  const tiff = new DataView(new ArrayBuffer(200));
  const u16 = (at: number, v: number) => tiff.setUint16(at, v, little);
  const u32 = (at: number, v: number) => tiff.setUint32(at, v, little);
  const text = (at: number, s: string) => [...s].forEach((c, k) => tiff.setUint8(at + k, c.charCodeAt(0)));
  const entry = (at: number, tag: number, type: number, count: number, value: number) => {
    u16(at, tag);
    u16(at + 2, type);
    u32(at + 4, count);
    u32(at + 8, value);
  };
  tiff.setUint16(0, little ? 0x4949 : 0x4d4d);
  u16(2, 42);
  u32(4, 8);
  u16(8, 2);
  entry(10, 0x0110, 2, 8, 120);
  entry(22, 0x8769, 4, 1, 50);
  u16(50, 2);
  entry(52, 0x9003, 2, 20, 140);
  entry(64, 0x9291, 2, 2, 0);
  text(72, '25');
  text(120, 'TESTCAM');
  text(140, taken);
  const out = new Uint8Array(2 + 20 + 10 + 200);
  out.set([0xff, 0xd8, 0xff, 0xe0, 0, 18]);
  const at = 22;
  out.set([0xff, 0xe1, 0, 208, 0x45, 0x78, 0x69, 0x66, 0, 0], at);
  out.set(new Uint8Array(tiff.buffer), at + 10);
  return out;
}

describe('photographs', () => {
  it.each([true, false])('tell their time and camera, little-endian: %s', (little) => {
    const facts = readExif(jpeg('2026:06:16 09:02:11', little))!;
    expect(facts.takenS).toBe(Date.UTC(2026, 5, 16, 9, 2, 11) / 1000 + 0.25);
    expect(facts.camera).toBe('TESTCAM');
  });
  it('without a time, cut off or of another kind tell nothing', () => {
    expect(readExif(jpeg('unknown', true))!.takenS).toBeNaN();
    expect(readExif(jpeg('2026:06:16 09:02:11', true).slice(0, 60))).toBeUndefined();
    expect(readExif(Uint8Array.of(1, 2, 3))).toBeUndefined();
  });
  it('come as a list, and back', () => {
    const list = readPhotoList(
      new TextEncoder().encode('name,taken\n"A, left.jpg",2026-06-16T09:02:11.5\nB.jpg,\n'),
      'p.csv',
    );
    expect(list[0]).toEqual({ name: 'A, left.jpg', takenS: Date.UTC(2026, 5, 16, 9, 2, 11) / 1000 + 0.5 });
    expect(list[1].takenS).toBeNaN();
    expect(readPhotoList(new TextEncoder().encode(photoListCsv(list)), 'q.csv')).toEqual(list);
    expect(() => readPhotoList(new TextEncoder().encode('name,taken\nA,today\n'), 'p.csv')).toThrow(/not a date/);
  });
});
