import { describe, expect, it } from 'vitest';
import { SliceBuilder, stepped, touches } from './cut';

const line = { from: [100, 200] as [number, number], to: [130, 240] as [number, number], widthM: 2 };

describe('a section', () => {
  it('keeps exactly the points within half its width and gives their distance along it', () => {
    const builder = new SliceBuilder(line);
    // 10 m along a line of direction (0.6, 0.8), and 0.9, −0.9 and 1.1 m to its left
    const points = [0.9, -0.9, 1.1].map((d) => [100 + 6 - 0.8 * d, 200 + 8 + 0.6 * d, 5]);
    points.push([100 - 0.6, 200 - 0.8, 5]);
    const position = Int32Array.from(points.flat(), (v) => Math.round(v * 1000));
    builder.add(
      position,
      new Uint16Array(24),
      Uint8Array.from([2, 6, 1, 1]),
      Uint8Array.from([0, 1, 0, 0]),
      0.001,
      [0, 0, 0],
      70,
    );
    const slice = builder.finish();
    expect([...slice.row]).toEqual([70, 71]);
    expect([...slice.cls]).toEqual([2, 6]);
    expect([...slice.flags]).toEqual([0, 1]);
    expect(slice.acrossM[1]).toBeCloseTo(-0.9, 3);
    expect(slice.alongM[0]).toBeCloseTo(10, 3);
    expect(slice.alongM[1]).toBeCloseTo(10, 3);
    expect(slice.heightM[0]).toBeCloseTo(5, 5);
  });
  it('touches squares it crosses and no others', () => {
    expect(touches(line, 110, 215, 4)).toBe(true);
    expect(touches(line, 120, 205, 4)).toBe(false);
    // a square beside the corner whose bounding boxes overlap, yet the slice passes by
    expect(touches(line, 124, 208, 10)).toBe(false);
    expect(touches({ ...line, widthM: 40 }, 124, 208, 10)).toBe(true);
  });
  it('steps sideways by its left', () => {
    const s = stepped(line, 5);
    expect(s.from[0]).toBeCloseTo(96, 9);
    expect(s.from[1]).toBeCloseTo(203, 9);
  });
});
