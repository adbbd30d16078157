import { describe, expect, it } from 'vitest';
import { Random } from '../../numeric/random';
import { CellSums } from './cellSums';
import { chooseCells } from './choose';
import { differencesOf, pairsOf, planShiftsOf, rmsOf } from './differences';
import { patchesOf } from './patches';

const E0 = 467_000;
const N0 = 6_215_000;
const pieces = [
  { head: 0, line: 1 },
  { head: 0, line: 2 },
];

/** Points of two lines on a surface over 60 m × 60 m; the second shifted. */
function twoLines(height: (x: number, y: number) => number, shift = [0, 0, 0], noiseM = 0.01): CellSums {
  const r = new Random(5, 'patches');
  const sums = new CellSums(3, E0, N0);
  for (let piece = 0; piece < 2; piece++)
    for (let k = 0; k < 12_000; k++) {
      const [x, y] = [r.between(0, 60), r.between(0, 60)];
      const [dx, dy, dz] = piece ? shift : [0, 0, 0];
      sums.add(piece, E0 + x, N0 + y, height(x - dx, y - dy) + dz + noiseM * r.normal(), 100 + piece);
    }
  return sums;
}

describe('patches', () => {
  it('have the normal of their plane, and means as sure as their points are many', () => {
    const patches = patchesOf(twoLines((x, y) => 12 + 0.3 * x - 0.1 * y));
    expect(patches.cells).toBe(400);
    const norm = Math.hypot(0.3, 0.1, 1);
    let square = 0;
    for (let c = 0; c < patches.cells; c++) {
      expect(patches.normal[3 * c]).toBeCloseTo(-0.3 / norm, 2);
      expect(patches.normal[3 * c + 1]).toBeCloseTo(0.1 / norm, 2);
      expect(patches.normal[3 * c + 2]).toBeCloseTo(1 / norm, 2);
    }
    for (let i = 0; i < patches.entries; i++) {
      const off = patches.heightM[i] - 12 - 0.3 * (patches.eastingM[i] - E0) + 0.1 * (patches.northingM[i] - N0);
      square += (off / norm) ** 2 / patches.varianceM2[i];
    }
    expect(Math.sqrt(square / patches.entries)).toBeCloseTo(1, 1);
    expect(patches.timeS[0]).toBeCloseTo(100 + patches.piece[0], 9);
  });

  it('are none where points scatter, and none over an edge', () => {
    const rough = patchesOf(twoLines((x, y) => (x < 30 ? 5 : 5 + 0.4 * Math.sin(9 * x) * Math.sin(7 * y))));
    for (let i = 0; i < rough.entries; i++) expect(rough.eastingM[i] - E0).toBeLessThan(31);
    expect(rough.rough).toBeGreaterThan(350);
    expect(rough.cells).toBeGreaterThan(190);
  });

  it('differ by a shift along their normal, pair by pair', () => {
    const patches = patchesOf(twoLines(() => 8, [0, 0, 0.04], 0.002));
    const d = differencesOf(patches);
    expect(rmsOf(d)).toBeCloseTo(0.04, 3);
    const [pair] = pairsOf(d);
    expect(pair).toMatchObject({ first: 0, second: 1, patches: 400 });
    expect(pair.meanM).toBeCloseTo(0.04, 3);
    expect(pair.noiseM).toBeLessThan(0.002);
  });

  it('tell the shift in plan where slopes look several ways, and nothing on level ground', () => {
    // a hipped roof with four faces
    const roof = (x: number, y: number) => 20 - 0.6 * Math.max(Math.abs(x - 30), Math.abs(y - 30));
    const d = differencesOf(patchesOf(twoLines(roof, [0.12, -0.05, 0.02], 0.003)));
    const shifts = planShiftsOf(d, pieces, 60);
    expect(shifts).toHaveLength(1);
    expect(shifts[0].dE).toBeCloseTo(0.12, 2);
    expect(shifts[0].dN).toBeCloseTo(-0.05, 2);
    expect(shifts[0].dH).toBeCloseTo(0.02, 2);
    expect(shifts[0]).toMatchObject({ firstLine: 1, secondLine: 2 });
    expect(planShiftsOf(differencesOf(patchesOf(twoLines(() => 8))), pieces, 60)).toEqual([]);
  });

  it('are chosen from every direction of slope', () => {
    // level but for one narrow bank
    const patches = patchesOf(twoLines((x) => (x < 54 ? 4 : 4 + 0.4 * (x - 54)), [0, 0, 0], 0.002));
    const few = chooseCells(patches, 60);
    const steep = Array.from(few).filter((c) => patches.normal[3 * c] < -0.3);
    const all = Array.from({ length: patches.cells }, (_, c) => c).filter((c) => patches.normal[3 * c] < -0.3);
    expect(few).toHaveLength(60);
    expect(all.length).toBeGreaterThan(15);
    expect(steep.length).toBeGreaterThan(Math.min(all.length, 29) - 1);
    expect(chooseCells(patches)).toHaveLength(patches.cells);
  });
});
