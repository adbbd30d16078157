import { describe, expect, it } from 'vitest';
import { Random } from '../numeric';
import { fitHeight, type PlacedResidual } from '.';

const grid = (residual: (x: number, y: number, k: number) => number): PlacedResidual[] =>
  Array.from({ length: 12 }, (_, k) => {
    const [x, y] = [80 * (k % 4), 90 * Math.floor(k / 4)];
    return { name: `M${k}`, eastingM: 467_000 + x, northingM: 6_215_000 + y, residualM: residual(x, y, k) };
  });

describe('one shift for all heights', () => {
  it('is the mean of residuals that agree, with its deviation', () => {
    const fit = fitHeight(grid((_x, _y, k) => 0.04 + (k % 2 ? 0.003 : -0.003)));
    expect(fit.shiftM).toBeCloseTo(0.04, 9);
    // twelve residuals of 3 mm: SD 3 mm · √(12/11), of the mean /√12
    expect(fit.sdM).toBeCloseTo(0.003 / Math.sqrt(11), 9);
    expect(fit.weight).toEqual(new Array(12).fill(1));
    expect(fit.tilted).toBe(false);
  });

  it('is not moved by a mark that is wrong', () => {
    const fit = fitHeight(grid((_x, _y, k) => (k === 5 ? 0.4 : 0.04 + (k % 2 ? 0.003 : -0.003))));
    expect(Math.abs(fit.shiftM - 0.04)).toBeLessThan(0.001);
    expect(fit.weight[5]).toBe(0);
  });

  it('would hide a tilt, and says from end to end how large', () => {
    const r = new Random(3, 'tilt');
    const fit = fitHeight(grid((x, y) => 0.02 + 1e-4 * x + 5e-5 * y + 0.002 * r.normal()));
    expect(fit.tilted).toBe(true);
    // 240 m by 0.1 mm and 180 m by 0.05 mm
    expect(fit.tiltM).toBeGreaterThan(0.027);
    expect(fit.tiltM).toBeLessThan(0.039);
  });

  it('hides nothing by chance: of two hundred level sets hardly one is called tilted', () => {
    const r = new Random(9, 'level');
    let called = 0;
    for (let k = 0; k < 200; k++) if (fitHeight(grid(() => 0.03 + 0.008 * r.normal())).tilted) called++;
    expect(called).toBeLessThan(8);
  });
});
