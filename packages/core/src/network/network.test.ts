import { describe, expect, it } from 'vitest';
import { DEG, ecefToNed, geodeticToEcef, GRS80 } from '../frames/ellipsoid';
import { chiSquareBelow, chiSquareQuantile } from '../numeric/gamma';
import { adjustNetwork, loopsOf, type NetworkPoint, type VectorObservation } from '.';
import { turned } from './ellipse';

const AXES = ecefToNed(56 * DEG, 8 * DEG);
/** Covariance in Earth-centred axes from deviations north, east, down, metres. */
function covariance(n: number, e: number, d: number): Float64Array {
  const transposed = Float64Array.from({ length: 9 }, (_, k) => AXES[3 * (k % 3) + Math.floor(k / 3)]);
  return turned(transposed, Float64Array.of(n * n, 0, 0, 0, e * e, 0, 0, 0, d * d));
}
const place = (lat: number, lon: number, h: number) => geodeticToEcef(GRS80, lat * DEG, lon * DEG, h);
/** Earth-centred from north, east, down. */
const fromNed = (v: number[]) => [0, 1, 2].map((c) => AXES[c] * v[0] + AXES[3 + c] * v[1] + AXES[6 + c] * v[2]);

describe('chi-square', () => {
  it('meets tables', () => {
    expect(chiSquareQuantile(0.95, 10)).toBeCloseTo(18.307038, 6);
    expect(chiSquareQuantile(0.5, 1)).toBeCloseTo(0.4549364, 7);
    expect(chiSquareQuantile(0.999, 200)).toBeCloseTo(267.5405278, 6);
    expect(chiSquareBelow(7.815, 3)).toBeCloseTo(0.95, 4);
  });
});

describe('networks', () => {
  // adjusted independently with numpy, derivatives by differences
  const A = [3540074.50749271, 497525.02619168, 5264475.3975603];
  const B = [3534422.68389573, 497988.89083868, 5268220.68331877];
  const vector = (from: string, to: string, session: string, deltaM: number[], sd: [number, number, number]) =>
    ({ kind: 'vector', from, to, session, deltaM, covariance: covariance(...sd) }) as VectorObservation;
  const vectors = [
    vector('A', 'C', 's1', [-3524.1598663839536, 5170.889237741733, 1872.937286836169], [0.004, 0.003, 0.009]),
    vector('B', 'C', 's1', [2127.67053286354, 4707.030592366709, -1872.3318818058056], [0.005, 0.004, 0.01]),
    vector('B', 'D', 's2', [4313.328423351106, 2497.5408965394467, -3106.1585349988536], [0.004, 0.004, 0.008]),
    vector('C', 'D', 's2', [2185.6672135667327, -2209.496464174514, -1233.8322451220827], [0.003, 0.003, 0.008]),
  ];
  const points: NetworkPoint[] = [
    { name: 'A', heldM: A, heldSdM: [0.003, 0.003, 0.005] },
    { name: 'B', heldM: B, heldSdM: [0.004, 0.004, 0.008] },
    { name: 'C' },
    { name: 'D' },
  ];
  const adjusted = adjustNetwork(points, [
    ...vectors,
    { kind: 'distance', from: 'A', to: 'D', valueM: 3312.0886974172413, sdM: 0.003 },
    { kind: 'height', from: 'A', to: 'D', valueM: 19.997, sdM: 0.002 },
  ]);

  it('adjusts vectors, a distance and a height difference together', () => {
    expect(adjusted.freedom).toBe(8);
    expect(adjusted.varianceFactor).toBeCloseTo(1.5294966, 5);
    expect(adjusted.expected[0]).toBeCloseTo(0.27246634, 7);
    expect(adjusted.expected[1]).toBeCloseTo(2.19181827, 7);
    expect(adjusted.scale).toBe(1);
    const [, b, c, d] = adjusted.points;
    const off = (p: typeof c, lat: number, lon: number, h: number) => {
      const [t, r] = [place(lat, lon, h), ecefToNed(lat * DEG, lon * DEG)];
      return [0, 1, 2].map((k) => 1000 * [0, 1, 2].reduce((s, i) => s + r[3 * k + i] * (p.xyzM[i] - t[i]), 0));
    };
    [10.18477762, 2.64689266, -2.37621662].forEach((v, k) => expect(off(c, 56.03, 8.09, 47)[k]).toBeCloseTo(v, 3));
    [9.73901326, 1.16559553, 1.93051236].forEach((v, k) => expect(off(d, 56.01, 8.05, 60)[k]).toBeCloseTo(v, 3));
    [3.6288623, 3.19507648, 6.87227656].forEach((v, k) => expect(1000 * c.sdM[k]).toBeCloseTo(v, 4));
    [4.2821652, 3.41577884, 4.80250697].forEach((v, k) => expect(1000 * d.sdM[k]).toBeCloseTo(v, 4));
    [-2.41614533, -3.07479678, 4.07639471].forEach((v, k) => expect(1000 * b.movedM![k]).toBeCloseTo(v, 3));
    expect(1000 * d.ellipse.majorM).toBeCloseTo(4.37970021, 4);
    expect(1000 * d.ellipse.minorM).toBeCloseTo(3.28978874, 4);
    expect(d.ellipse.bearingRad / DEG).toBeCloseTo(161.4632909, 3);
  });

  it('says what each observation is checked by, and tests it', () => {
    const { observations } = adjusted;
    const redundancy = [0.40618849, 0.6788784, 0.46689247, 0.27768854, 0.38304632, 0.0449365];
    const tests = [2.25442897, 1.15676258, 1.93277892, 2.22333806, 0.93687655, 1.22171061];
    observations.forEach((o, i) => {
      expect(o.redundancy).toBeCloseTo(redundancy[i], 6);
      expect(o.test).toBeCloseTo(tests[i], 4);
    });
    expect(adjusted.points.every((p) => p.checked)).toBe(true);
  });

  it('closes loops by the vectors alone', () => {
    const open = loopsOf(points, vectors);
    expect(open.map((l) => [l.kind, l.names.join(' ')])).toEqual([
      ['between held points', 'B C A'],
      ['between held points', 'A C D B'],
    ]);
    expect(open[0].sdM[2]).toBeCloseTo(Math.hypot(0.009, 0.01), 4);
    const through = [0, 1, 2].map((k) => vectors[1].deltaM[k] - vectors[0].deltaM[k] - (A[k] - B[k]));
    expect(Math.hypot(...open[0].misclosureM)).toBeCloseTo(Math.hypot(...through), 9);
    const loops = loopsOf([points[0], { name: 'B' }, ...points.slice(2)], vectors);
    expect(loops.map((l) => [l.kind, l.names.join(' ')])).toEqual([['closed', 'C B D C']]);
    const sum = [0, 1, 2].map((k) => vectors[2].deltaM[k] - vectors[3].deltaM[k] - vectors[1].deltaM[k]);
    const back = fromNed(loops[0].misclosureM);
    expect(Math.hypot(...loops[0].misclosureM)).toBeCloseTo(Math.hypot(...sum), 9);
    expect(Math.hypot(back[0] - sum[0], back[1] - sum[1], back[2] - sum[2])).toBeLessThan(2e-4);
  });

  it('shares a misclosure evenly among alike vectors, and finds the wrong one of many', () => {
    const at = ['A', 'B', 'C', 'D'].map((_, i) => place(56 + 0.01 * i, 8 + 0.02 * (i % 2), 10));
    const between = (i: number, j: number, error = [0, 0, 0]) =>
      vector(
        'ABCD'[i],
        'ABCD'[j],
        `${i}${j}`,
        [0, 1, 2].map((k) => at[j][k] - at[i][k] + fromNed(error)[k]),
        [0.003, 0.003, 0.003],
      );
    const held: NetworkPoint[] = [{ name: 'A', heldM: at[0] }, { name: 'B' }, { name: 'C' }];
    const three = adjustNetwork(held, [between(0, 1, [0.009, 0, 0]), between(1, 2), between(2, 0)]);
    // a third of 9 mm on each of three sides
    for (const o of three.observations) expect(Math.abs(o.residualM[0])).toBeCloseTo(0.003, 5);
    const six = adjustNetwork(
      [...held, { name: 'D' }],
      [between(0, 1), between(1, 2), between(2, 3), between(3, 0), between(0, 2, [0, 0.04, 0]), between(1, 3)],
    );
    expect(six.varianceFactor).toBeGreaterThan(six.expected[1]);
    expect(six.scale).toBeCloseTo(Math.sqrt(six.varianceFactor), 12);
    const worst = six.observations.reduce((a, b) => (b.test > a.test ? b : a));
    expect([worst.observation.from, worst.observation.to]).toEqual(['A', 'C']);
  });

  it('names the point that a single vector carries, and what is wrong with a network', () => {
    const single = adjustNetwork([points[0], points[1], { name: 'C' }, { name: 'D' }], vectors.slice(0, 3));
    expect(single.points.map((p) => p.checked)).toEqual([true, true, true, false]);
    expect(single.observations[2].test).toBeNaN();
    expect(() => adjustNetwork([{ name: 'A' }, { name: 'C' }], [vectors[0]])).toThrow(
      /No point of the network is held/,
    );
    expect(() => adjustNetwork([points[0], { name: 'C' }, { name: 'Z' }], [vectors[0]])).toThrow(/No vector joins Z/);
    expect(() => adjustNetwork([points[0], { name: 'C' }], vectors)).toThrow(/names B, which is no point/);
    expect(() =>
      adjustNetwork([points[0], { name: 'C' }], [{ ...vectors[0], covariance: new Float64Array(9) }]),
    ).toThrow(/no usable deviation/);
  });
});
