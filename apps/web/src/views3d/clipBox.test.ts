import { describe, expect, it } from 'vitest';
import { cornersOf, EDGES, faceOf, FACES, moveFace, planOf, THINNEST_M, type ClipBox } from './clipBox';

/** 30 m along (0.6, 0.8), 4 m wide, 6 m high. */
const BOX: ClipBox = { from: [100, 200], to: [118, 224], widthM: 4, heightM: [2, 8] };
const volume = (b: ClipBox) =>
  Math.hypot(b.to[0] - b.from[0], b.to[1] - b.from[1]) * b.widthM * (b.heightM[1] - b.heightM[0]);
const OPPOSITE = { start: 'end', end: 'start', left: 'right', right: 'left', bottom: 'top', top: 'bottom' } as const;

describe('a box', () => {
  it('has eight corners and twelve edges of its three sizes', () => {
    const corners = cornersOf(BOX);
    expect(corners[0]).toEqual([101.6, 198.8, 2]);
    expect(corners[7]).toEqual([116.4, 225.2, 8]);
    const lengths = EDGES.map(([a, b]) =>
      Math.hypot(...[0, 1, 2].map((k) => corners[a][k] - corners[b][k])).toFixed(6),
    );
    for (const size of ['30.000000', '4.000000', '6.000000']) expect(lengths.filter((l) => l === size)).toHaveLength(4);
  });

  it('grows by its face times the way it is moved, and its opposite face stays', () => {
    for (const face of FACES) {
      const grown = moveFace(BOX, face, 1.5);
      const area = { start: 24, end: 24, left: 180, right: 180, bottom: 120, top: 120 }[face];
      expect(volume(grown) - volume(BOX)).toBeCloseTo(1.5 * area, 9);
      const [before, after] = [faceOf(BOX, OPPOSITE[face]), faceOf(grown, OPPOSITE[face])];
      // the middle of the opposite face keeps its place along the way out of it
      const along = (p: readonly number[]) => before.out.reduce((s, o, k) => s + o * p[k], 0);
      expect(along(after.at)).toBeCloseTo(along(before.at), 9);
      const own = faceOf(BOX, face);
      const out = (p: readonly number[]) => own.out.reduce((s, o, k) => s + o * p[k], 0);
      expect(out(faceOf(grown, face).at) - out(own.at)).toBeCloseTo(1.5, 9);
    }
  });

  it('never turns inside out', () => {
    for (const face of FACES) {
      const thin = moveFace(BOX, face, -1000);
      const sizes = [Math.hypot(thin.to[0] - thin.from[0], thin.to[1] - thin.from[1]), thin.widthM];
      sizes.push(thin.heightM[1] - thin.heightM[0]);
      expect(Math.min(...sizes)).toBeCloseTo(THINNEST_M, 9);
      expect(moveFace(moveFace(BOX, face, 3), face, -3)).toEqual({
        from: BOX.from.map((v) => expect.closeTo(v, 9)),
        to: BOX.to.map((v) => expect.closeTo(v, 9)),
        widthM: expect.closeTo(4, 9),
        heightM: BOX.heightM.map((v) => expect.closeTo(v, 9)),
      });
    }
  });

  it('is a rectangle in plan, in order around', () => {
    const p = planOf(BOX);
    let twice = 0;
    for (let i = 0; i < 8; i += 2) twice += p[i] * p[(i + 3) % 8] - p[(i + 2) % 8] * p[i + 1];
    expect(Math.abs(twice) / 2).toBeCloseTo(120, 9);
  });
});
