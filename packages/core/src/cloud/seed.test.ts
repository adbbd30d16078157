import { describe, expect, it } from 'vitest';
import { Random } from '../numeric';
import { seedGround } from './seed';
import { spreadGround } from './spread';

const random = new Random(31, 'cells');

describe('cells that are ground for certain', () => {
  it('are those that a search through every window finds', () => {
    const [columns, rows, w] = [37, 29, 8];
    const heightM = Float32Array.from({ length: columns * rows }, () => random.between(0, 10));
    const found = new Uint8Array(columns * rows);
    const opened = seedGround({ columns, rows, cellM: 0.5, heightM }, found, w / 2, 0);
    const highest = new Float32Array(columns * rows).fill(-Infinity);
    for (let r = 0; r + w <= rows; r++)
      for (let c = 0; c + w <= columns; c++) {
        const inside: number[] = [];
        for (let v = r; v < r + w; v++) for (let u = c; u < c + w; u++) inside.push(v * columns + u);
        const least = Math.min(...inside.map((k) => heightM[k]));
        for (const k of inside) highest[k] = Math.max(highest[k], least);
      }
    expect([...opened]).toEqual([...highest]);
    expect([...found]).toEqual([...heightM].map((z, k) => (z <= highest[k] ? 1 : 0)));
  });

  it('are not taken from windows of which less than half was seen', () => {
    // a roof of 6 by 6 cells in the middle of nothing, and ground beyond
    const [columns, rows] = [80, 40];
    const heightM = new Float32Array(columns * rows).fill(Number.NaN);
    for (let r = 16; r < 22; r++) for (let c = 16; c < 22; c++) heightM[r * columns + c] = 8;
    for (let r = 0; r < 40; r++) for (let c = 40; c < 80; c++) heightM[r * columns + c] = 1;
    const found = new Uint8Array(columns * rows);
    seedGround({ columns, rows, cellM: 0.5, heightM }, found, 10, 0);
    for (let k = 0; k < found.length; k++) expect(found[k]).toBe(k % columns < 40 ? 0 : 1);
  });
});

describe('ground that spreads', () => {
  const [columns, rows, cellM] = [60, 30, 0.5];
  const land = (height: (x: number, y: number) => number) => ({
    columns,
    rows,
    cellM,
    heightM: Float32Array.from({ length: columns * rows }, (_, k) => height(k % columns, Math.floor(k / columns))),
  });
  const from = (c: number, r: number) => {
    const ground = new Uint8Array(columns * rows);
    for (let dr = -1; dr <= 1; dr++) for (let dc = -1; dc <= 1; dc++) ground[(r + dr) * columns + c + dc] = 1;
    return ground;
  };
  const share = (ground: Uint8Array) => ground.reduce((a, b) => a + b, 0) / ground.length;

  it('fills a plateau and falls down its cliff, but does not climb it', () => {
    const cliff = land((x) => (x < 30 ? 18 : 0));
    const above = from(5, 15);
    spreadGround(cliff, above, { steep: 0.8, forgiveM: 0.04 });
    expect(share(above)).toBe(1);
    const below = from(50, 15);
    spreadGround(cliff, below, { steep: 0.8, forgiveM: 0.04 });
    expect(share(below)).toBe(0.5);
  });

  it('follows a slope that it has seen begin, steps over gaps, and leaves a house out', () => {
    const slope = land((x, y) => (x % 5 === 3 ? Number.NaN : 0.3 * x + (x > 20 && x < 30 && y > 10 && y < 20 ? 4 : 0)));
    const ground = from(6, 5);
    for (let k = 0; k < ground.length; k++) if (Number.isNaN(slope.heightM[k])) ground[k] = 0;
    spreadGround(slope, ground, { steep: 0.8, forgiveM: 0.04 });
    for (let k = 0; k < ground.length; k++) {
      const [x, y] = [k % columns, Math.floor(k / columns)];
      const house = x > 20 && x < 30 && y > 10 && y < 20;
      expect([x, y, ground[k]]).toEqual([x, y, x % 5 === 3 || house ? 0 : 1]);
    }
  });
});
