import { describe, expect, it } from 'vitest';
import { Random } from '../numeric';
import {
  broadcastOrbit,
  BroadcastOrbits,
  integerLeastSquares,
  klobucharM,
  niell,
  saastamoinenDryM,
  zenithDelaysM,
  type Ephemeris,
} from '.';

const DEG = Math.PI / 180;
const record: Ephemeris = {
  satellite: 'G07',
  system: 'G',
  week: 2423,
  tocS: 208800,
  toeWeek: 2423,
  toeS: 208800,
  af0S: -1.2345e-4,
  af1: -3.4e-12,
  af2PerS: 0,
  sqrtA: 5153.712345,
  e: 0.0123456789,
  i0: 0.961234567,
  omega0: -1.23456789,
  omega: 0.7654321,
  m0: -2.1098765,
  deltaN: 4.5678e-9,
  iDot: -1.23e-10,
  omegaDot: -8.2345e-9,
  cuc: -3.1e-6,
  cus: 6.2e-6,
  crcM: 231.5,
  crsM: -57.25,
  cic: 1.7e-7,
  cis: -9.3e-8,
  groupDelayS: 0,
  health: 0,
  iode: 1,
};

describe('a broadcast orbit', () => {
  // the table of IS-GPS-200 worked through in Python, Kepler's equation by bisection
  it.each([
    [208800, 6262093.646488, 14662015.084845, -21457006.162275, -1.234258951766732e-4],
    [205300.25, 13900331.639311, 9180808.156159, -21052188.169721, -1.234241736045061e-4],
    [213456.789, -846643.93542, 22607856.722946, -13835709.911792, -1.234377961047987e-4],
  ])('gives place and clock at %s s', (sow, x, y, z, clock) => {
    const out = new Float64Array(4);
    broadcastOrbit(record, 2423, sow, out);
    expect(Math.hypot(out[0] - x, out[1] - y, out[2] - z)).toBeLessThan(2e-6);
    // the relativistic term by its published constant, to 1e-15 s
    expect(Math.abs(out[3] - clock)).toBeLessThan(1e-15);
  });
  it('runs over the end of the week', () => {
    const at = (toeWeek: number, toeS: number, week: number, sow: number) => {
      const out = new Float64Array(4);
      broadcastOrbit({ ...record, week: toeWeek, tocS: toeS, toeWeek, toeS }, week, sow, out);
      return out;
    };
    expect([...at(2423, 604784, 2424, 100)]).toEqual([...at(2423, 604784, 2423, 604900)]);
  });
  it('comes from the nearest healthy record that is still valid', () => {
    const other = { ...record, toeS: 216000, tocS: 216000, iode: 2 };
    const orbits = new BroadcastOrbits([record, other, { ...record, toeS: 212400, health: 1 }]);
    expect(orbits.at('G07', 2423, 212300)?.iode).toBe(1);
    expect(orbits.at('G07', 2423, 212500)?.iode).toBe(2);
    expect(orbits.at('G07', 2423, 230000)).toBeUndefined();
    expect(orbits.at('G08', 2423, 212500)).toBeUndefined();
  });
});

describe('the atmosphere', () => {
  it('has the zenith delay of the textbook', () => {
    expect(saastamoinenDryM(1013.25, 45 * DEG, 0)).toBeCloseTo(0.0022768 * 1013.25, 9);
    const { dryM, wetM } = zenithDelaysM(45 * DEG, 0, 0.5);
    expect(dryM).toBeCloseTo(2.307, 3);
    expect(wetM).toBeGreaterThan(0.07);
    expect(wetM).toBeLessThan(0.1);
    expect(zenithDelaysM(45 * DEG, 2000).dryM / dryM).toBeCloseTo(794.95 / 1013.25, 2);
  });
  it('maps to elevations by Niell’s tables', () => {
    // worked through in numpy
    expect(niell(10 * DEG, 52 * DEG, 300, 167).dry).toBeCloseTo(5.551427659, 8);
    expect(niell(5 * DEG, 40 * DEG, 0, 28).dry).toBeCloseTo(10.140734949, 8);
    expect(niell(90 * DEG, 52 * DEG, 0, 100)).toEqual({ dry: expect.closeTo(1, 12), wet: expect.closeTo(1, 12) });
    // half a year later it is the same season in the south
    expect(niell(8 * DEG, -40 * DEG, 0, 28 + 365.25 / 2).dry).toBeCloseTo(niell(8 * DEG, 40 * DEG, 0, 28).dry, 10);
  });
  it('has the broadcast ionosphere of the published example', () => {
    const alpha = [3.82e-8, 1.49e-8, -1.79e-7, 0];
    const beta = [1.43e5, 0, -3.28e5, 1.13e5];
    expect(klobucharM(alpha, beta, 40 * DEG, 260 * DEG, 210 * DEG, 20 * DEG, 74700)).toBeCloseTo(23.784, 2);
  });
});

describe('integer least squares', () => {
  it('gives the answer of the published example', () => {
    // de Jonge & Tiberius 1996
    const q = Float64Array.of(6.29, 5.978, 0.544, 5.978, 6.292, 2.34, 0.544, 2.34, 6.288);
    const s = integerLeastSquares(Float64Array.of(5.45, 3.1, 2.97), q)!;
    expect([...s.best]).toEqual([5, 3, 4]);
    expect([...s.second]).toEqual([6, 4, 4]);
    expect(s.bestNorm).toBeCloseTo(0.2183, 4);
    expect(s.secondNorm).toBeCloseTo(0.3073, 4);
  });
  it('finds what trying every vector finds, also when the ambiguities are strongly correlated', () => {
    const random = new Random(8);
    for (let round = 0; round < 60; round++) {
      const n = 3;
      // few directions known well, one hardly: as the ambiguities of a short session
      const g = Float64Array.from({ length: n * n }, () => random.normal());
      const weak = Float64Array.from({ length: n }, () => 1.5 * random.normal());
      const q = new Float64Array(n * n);
      for (let i = 0; i < n; i++)
        for (let j = 0; j < n; j++) {
          for (let k = 0; k < n; k++) q[i * n + j] += 0.01 * g[i * n + k] * g[j * n + k];
          q[i * n + j] += weak[i] * weak[j] + (i === j ? 1e-4 : 0);
        }
      const a = Float64Array.from({ length: n }, () => random.between(-3, 3));
      const found = integerLeastSquares(a, q)!;
      const norms = everyVector(a, inverse(q, n), 16);
      expect(found.bestNorm / norms[0]).toBeCloseTo(1, 6);
      expect(found.secondNorm / norms[1]).toBeCloseTo(1, 6);
    }
  });
  it('states a success rate that draws confirm', () => {
    const random = new Random(4);
    const sd = 0.22;
    const q = Float64Array.of(sd * sd, 0, 0, sd * sd);
    let right = 0;
    const draws = 20000;
    for (let k = 0; k < draws; k++)
      if (Math.abs(sd * random.normal()) < 0.5 && Math.abs(sd * random.normal()) < 0.5) right++;
    const { successRate } = integerLeastSquares(Float64Array.of(0.1, 0.2), q)!;
    expect(Math.abs(successRate - right / draws)).toBeLessThan(
      4 * Math.sqrt((successRate * (1 - successRate)) / draws),
    );
  });
  it('refuses a covariance that is none', () => {
    expect(integerLeastSquares(Float64Array.of(1, 2), Float64Array.of(1, 2, 2, 1))).toBeUndefined();
  });
});

function inverse(q: Float64Array, n: number): number[][] {
  const m = Array.from({ length: n }, (_, i) => [
    ...q.subarray(i * n, (i + 1) * n),
    ...Array.from({ length: n }, (_, j) => (i === j ? 1 : 0)),
  ]);
  for (let i = 0; i < n; i++) {
    const p = m.slice(i).reduce((best, row, k) => (Math.abs(row[i]) > Math.abs(m[best][i]) ? i + k : best), i);
    [m[i], m[p]] = [m[p], m[i]];
    m[i] = m[i].map((v, _, row) => v / row[i]);
    for (let r = 0; r < n; r++) if (r !== i) m[r] = m[r].map((v, c) => v - m[r][i] * m[i][c]);
  }
  return m.map((row) => row.slice(n));
}

/** Norms of all integer vectors within a reach of the float one, ascending. */
function everyVector(a: Float64Array, w: number[][], reach: number): number[] {
  const n = a.length;
  const norms: number[] = [];
  const v = new Float64Array(n);
  const walk = (i: number): void => {
    if (i === n) {
      let sum = 0;
      for (let r = 0; r < n; r++) for (let c = 0; c < n; c++) sum += (a[r] - v[r]) * w[r][c] * (a[c] - v[c]);
      norms.push(sum);
      return;
    }
    for (let k = Math.round(a[i]) - reach; k <= Math.round(a[i]) + reach; k++) {
      v[i] = k;
      walk(i + 1);
    }
  };
  walk(0);
  return norms.sort((x, y) => x - y);
}
