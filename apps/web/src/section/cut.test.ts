import { describe, expect, it } from 'vitest';
import { type CloudIndex } from '@longheron/contract/api';
import { attributesOf } from '@longheron/core/cloud';
import { SliceBuilder, stepped, touches } from './cut';
import { pickedOf, pickInSlice } from './picking';

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
      attributesOf(new Uint16Array(24), 4),
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

  it('gives the drawn point nearest to a place in its picture, where it lies in the cloud', () => {
    const builder = new SliceBuilder(line);
    // along 10 m at heights 5, 5.2 and 5.4 m, the last rejected, 0.4 m to the left; and along 20 m
    const place = (along: number, across: number, h: number) => [
      100 + 0.6 * along - 0.8 * across,
      200 + 0.8 * along + 0.6 * across,
      h,
    ];
    const points = [place(10, 0.4, 5), place(10, 0.4, 5.2), place(10, 0.4, 5.4), place(20, -0.5, 5)];
    const words = new Uint16Array(24);
    words.set([700, 3, 50, 0, 123, 1 | (2 << 8)], 6);
    builder.add(
      Int32Array.from(points.flat(), (v) => Math.round(v * 1000)),
      attributesOf(words, 4),
      Uint8Array.of(2, 5, 5, 2),
      Uint8Array.of(0, 0, 1, 0),
      0.001,
      [0, 0, 0],
      70,
    );
    const slice = builder.finish();
    const f = { left: 50, top: 10, width: 500, height: 200, lengthM: 50, lowM: 4, highM: 6 };
    const all = { hidden: new Set<number>(), rejected: 'shown' as const, filtered: undefined };
    // ten pixels a metre along, a hundred a metre up
    const pick = (x: number, y: number, more = {}) => pickInSlice(slice, f, x, y, { ...all, ...more });
    expect([pick(150, 110), pick(152, 88), pick(150, 71), pick(250, 109)]).toEqual([0, 1, 2, 3]);
    expect(pick(170, 110)).toBe(-1);
    expect(pick(150, 71, { rejected: 'hidden' })).toBe(-1);
    expect(pick(150, 90, { rejected: 'only' })).toBe(-1);
    expect(pick(150, 90, { hidden: new Set([5]) })).toBe(-1);
    expect(pick(150, 90, { filtered: Uint8Array.of(0, 1, 0, 0) })).toBe(-1);
    const index = { timeOrigin: 1000, timeStepS: 0.1 } as CloudIndex;
    const p = pickedOf(slice, 1, line, index);
    expect(p).toMatchObject({ row: 71, cls: 5, intensity: 700, strip: 3, echo: 1, echoes: 2, gpsS: 1005 });
    expect(p.sdHM).toBeCloseTo(0.0123, 9);
    expect([p.eastingM, p.northingM, p.heightM].map((v, k) => v - points[1][k]).every((d) => Math.abs(d) < 0.001)).toBe(
      true,
    );
  });
});
