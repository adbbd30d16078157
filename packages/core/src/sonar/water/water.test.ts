import { describe, expect, it } from 'vitest';
import {
  checkCast,
  LayeredWater,
  nearestCast,
  pressureDbar,
  soundSpeedByDepthMps,
  soundSpeedMps,
  speedAt,
  type Cast,
} from '.';

const cast = (rows: Array<[number, number]>, more: Partial<Cast> = {}): Cast => ({
  name: 'A',
  week: 2423,
  sow: 1000,
  latRad: 0.98,
  lonRad: 0.15,
  depthM: Float64Array.from(rows, (r) => r[0]),
  speedMps: Float64Array.from(rows, (r) => r[1]),
  sdMps: 0.1,
  ...more,
});

/** A thermocline over a mixed layer, as in summer. */
const SUMMER: Array<[number, number]> = [
  [0, 1489.2],
  [2.5, 1488.9],
  [4, 1480.1],
  [7, 1471.4],
  [12, 1470.8],
  [25, 1471.6],
];

describe('the speed of sound', () => {
  it('is that of the published check values', () => {
    // Fofonoff & Millard 1983, UNESCO technical papers 44, table of check values
    expect(soundSpeedMps(40, 40, 10_000)).toBeCloseTo(1731.995, 3);
    expect(soundSpeedMps(0, 25, 0)).toBeCloseTo(1435.8, 1);
    expect(soundSpeedMps(20, 35, 0)).toBeCloseTo(1521.5, 1);
    // Mackenzie 1981
    expect(soundSpeedByDepthMps(25, 35, 1000)).toBeCloseTo(1550.744, 3);
    // Saunders 1981
    expect(pressureDbar(7321.45, Math.PI / 6)).toBeCloseTo(7500.004, 2);
  });

  it('agrees between both equations where both hold', () => {
    for (const t of [4, 10, 18])
      for (const s of [28, 35])
        for (const z of [0, 20, 200]) {
          const both = soundSpeedMps(t, s, pressureDbar(z, 0.97)) - soundSpeedByDepthMps(t, s, z);
          expect(Math.abs(both)).toBeLessThan(0.25);
        }
  });
});

describe('a cast', () => {
  it('is linear between rows and constant beyond', () => {
    const c = cast(SUMMER);
    expect([speedAt(c, -1), speedAt(c, 3.25), speedAt(c, 40)]).toEqual([1489.2, 1484.5, 1471.6]);
    const water = new LayeredWater(c);
    for (const z of [-1, 0, 1.3, 3.25, 6, 24.9, 40]) expect(water.at(z)).toBeCloseTo(speedAt(c, z), 9);
  });

  it('is taken by time or by place', () => {
    const casts = [cast(SUMMER), cast(SUMMER, { sow: 5000, latRad: 0.9801 }), cast(SUMMER, { week: 2424, sow: 0 })];
    const at = 2423 * 604_800;
    expect(nearestCast(casts, 'time', at + 2900, 0.98, 0.15)).toBe(0);
    expect(nearestCast(casts, 'time', at + 3100, 0.98, 0.15)).toBe(1);
    expect(nearestCast(casts, 'time', at + 604_000, 0.98, 0.15)).toBe(2);
    expect(nearestCast(casts, 'place', at, 0.98009, 0.15)).toBe(1);
  });

  it.each([
    [
      [
        [0, 1489],
        [1, 330],
      ],
      /330.0 m\/s is not that of water/,
      'cast A, depth 1.00 m',
    ],
    [
      [
        [0, 1489],
        [2, 1490],
        [2, 1491],
      ],
      /must increase/,
      'cast A, depth 2.00 m',
    ],
    [
      [
        [0, 1400],
        [2, 1480],
      ],
      /jumps/,
      'cast A, depth 2.00 m',
    ],
  ] as Array<[Array<[number, number]>, RegExp, string]>)('that can be none is refused: %j', (rows, words, place) => {
    expect(() => checkCast(cast(rows), 'c.csv')).toThrow(
      expect.objectContaining({ message: expect.stringMatching(words), place, file: 'c.csv' }),
    );
  });
});

/** The same ray by Runge and Kutta's fourth-order steps of time, from dx/dt = c sin, dz/dt = c cos, sin = p c(z). */
function byStep(rows: Array<[number, number]>, fromM: number, slowness: number, timeS: number): [number, number] {
  const c = (z: number) => speedAt(cast(rows), z);
  const rate = (z: number): [number, number] => {
    const v = c(z);
    const sin = slowness * v;
    return [v * sin, v * Math.sqrt(1 - sin * sin)];
  };
  const steps = 4000;
  const h = timeS / steps;
  let [x, z] = [0, fromM];
  for (let i = 0; i < steps; i++) {
    const k1 = rate(z);
    const k2 = rate(z + (h / 2) * k1[1]);
    const k3 = rate(z + (h / 2) * k2[1]);
    const k4 = rate(z + h * k3[1]);
    x += (h / 6) * (k1[0] + 2 * k2[0] + 2 * k3[0] + k4[0]);
    z += (h / 6) * (k1[1] + 2 * k2[1] + 2 * k3[1] + k4[1]);
  }
  return [x, z - fromM];
}

describe('a ray through layers', () => {
  it.each([0, 20, 45, 65, 72])('at %i° ends where step by step it ends', (deg) => {
    const water = new LayeredWater(cast(SUMMER));
    for (const from of [0.6, 3]) {
      const c = water.at(from);
      const slowness = Math.sin((deg * Math.PI) / 180) / c;
      for (const time of [0.002, 0.012, 0.03]) {
        water.trace(from, slowness, time);
        const [x, z] = byStep(SUMMER, from, slowness, time);
        expect(Math.abs(water.acrossM - x)).toBeLessThan(1e-4);
        expect(Math.abs(water.downM - z)).toBeLessThan(1e-4);
        const sin = slowness * speedAt(cast(SUMMER), from + z);
        expect(water.sinEnd).toBeCloseTo(sin, 6);
        expect(water.cosEnd).toBeCloseTo(Math.sqrt(1 - sin * sin), 6);
      }
    }
  });

  it('is straight in water of one speed, an arc of a circle in a constant gradient', () => {
    const even = new LayeredWater(
      cast([
        [0, 1500],
        [50, 1500],
      ]),
    );
    even.trace(1, Math.sin(1) / 1500, 0.02);
    expect([even.acrossM, even.downM].map((v, k) => v / (30 * [Math.sin(1), Math.cos(1)][k]))).toEqual([
      expect.closeTo(1, 12),
      expect.closeTo(1, 12),
    ]);
    // radius 1 / (p g): the end lies on the circle about the level where the speed would be nothing
    const [c0, g] = [1480, -1.5];
    const steep = new LayeredWater(
      cast([
        [0, c0],
        [40, c0 + 40 * g],
      ]),
    );
    const p = Math.sin(0.9) / c0;
    steep.trace(0, p, 0.02);
    const radius = 1 / (p * Math.abs(g));
    const centre = [radius * Math.cos(0.9), -c0 / g];
    expect(Math.hypot(steep.acrossM + centre[0], steep.downM - centre[1])).toBeCloseTo(radius, 6);
  });

  it('that turns up again ends nowhere', () => {
    const water = new LayeredWater(
      cast([
        [0, 1450],
        [20, 1550],
      ]),
    );
    water.trace(0, Math.sin(1.45) / 1450, 0.05);
    expect(water.downM).toBeNaN();
  });
});
