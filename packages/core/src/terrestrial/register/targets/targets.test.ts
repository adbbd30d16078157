import { describe, expect, it } from 'vitest';
import { type Vector3 } from '../../../numeric/matrix3';
import { Random } from '../../../numeric/random';
import { registerScans } from '..';
import { findDiscs, findSpheres, nameTargets, sameTargets, type FoundTarget } from '.';

const R = 0.1;
const DEG = Math.PI / 180;
const SPHERES: Vector3[] = [
  [3, 5, 1.1],
  [-4, 6, 0.8],
  [7, -2, 1.4],
  [-6, -5, 0.9],
  [1, -8, 1.2],
  [9, 7, 1],
];
const STANDS = [
  { name: 'a', at: [0, 0, 1.6] as Vector3, bearing: 0.7 },
  { name: 'b', at: [4, -3, 1.7] as Vector3, bearing: 3.9 },
  { name: 'c', at: [-3, 2, 1.5] as Vector3, bearing: 5.5 },
];

/** Ground, a wall, spheres on thin poles and a bush, as seen by rays a fifteenth of a degree apart, 2 mm of noise. */
function scanned({ at, bearing }: (typeof STANDS)[number], seed: number): Float64Array[] {
  const random = new Random(seed, 'spheres');
  const out: number[][] = [[], [], []];
  const [sb, cb] = [Math.sin(bearing), Math.cos(bearing)];
  const spheres = SPHERES.map((c) => c.map((v, k) => v - at[k]));
  const put = (d: number[], range: number) => {
    const read = range + 0.002 * random.normal();
    const [x, y] = [cb * d[0] - sb * d[1], sb * d[0] + cb * d[1]];
    [x, y, d[2]].forEach((v, k) => out[k].push(read * v));
  };
  const cast = (d: number[]) => {
    let range = d[2] < 0 ? -at[2] / d[2] : Infinity;
    const wall = (11 - at[0]) / d[0];
    if (wall > 0) range = Math.min(range, wall);
    for (const c of spheres) {
      const along = c[0] * d[0] + c[1] * d[1] + c[2] * d[2];
      const off2 = c[0] ** 2 + c[1] ** 2 + c[2] ** 2 - along ** 2;
      if (along > 0 && off2 < R * R) range = Math.min(range, along - Math.sqrt(R * R - off2));
      // the pole below it, a centimetre thick
      const t = (c[0] * d[0] + c[1] * d[1]) / (d[0] ** 2 + d[1] ** 2);
      const beside = Math.hypot(c[0] - t * d[0], c[1] - t * d[1]);
      if (t > 0 && beside < 0.005 && t * d[2] < c[2] - 0.8 * R && t * d[2] > c[2] - 0.6) range = Math.min(range, t);
    }
    if (range < 25) put(d, range);
  };
  const direction = (e: number, t: number) => [Math.cos(e) * Math.sin(t), Math.cos(e) * Math.cos(t), Math.sin(e)];
  for (let e = -50; e < 20; e += 0.5) for (let t = 0; t < 360; t += 0.5) cast(direction(e * DEG, t * DEG));
  // dense about the spheres alone, so that the test is quick
  for (const c of spheres) {
    const [t0, e0] = [Math.atan2(c[0], c[1]), Math.asin(c[2] / Math.hypot(...c))];
    const half = 0.35 / Math.hypot(...c);
    for (let e = -half; e < half; e += DEG / 15)
      for (let t = -half; t < half; t += DEG / 15) cast(direction(e0 + e, t0 + t));
  }
  for (let k = 0; k < 3000; k++) {
    const p = [-2 + 0.6 * random.normal(), -3 + 0.6 * random.normal(), 1 + 0.4 * random.normal()].map(
      (v, i) => v - at[i],
    );
    const range = Math.hypot(...p);
    put(
      p.map((v) => v / range),
      range,
    );
  }
  return out.map((c) => Float64Array.from(c));
}
const seenFrom = ({ at, bearing }: (typeof STANDS)[number], p: Vector3): Vector3 => {
  const d = p.map((v, k) => v - at[k]);
  return [
    Math.cos(bearing) * d[0] - Math.sin(bearing) * d[1],
    Math.sin(bearing) * d[0] + Math.cos(bearing) * d[1],
    d[2],
  ];
};
const found = new Map<string, FoundTarget[]>(
  STANDS.map((s, k) => {
    const [x, y, z] = scanned(s, k + 1);
    return [s.name, findSpheres(x, y, z, R, true)];
  }),
);

describe('spheres in scans', () => {
  it('are found by themselves, and nothing else is one', () => {
    const inSd: number[] = [];
    for (const s of STANDS) {
      const spheres = found.get(s.name)!;
      expect(spheres.length).toBeGreaterThanOrEqual(5);
      for (const f of spheres) {
        const off = SPHERES.map((c) => Math.hypot(...seenFrom(s, c).map((v, k) => v - f.atM[k])));
        expect(Math.min(...off)).toBeLessThan(0.003);
        const nearest = seenFrom(s, SPHERES[off.indexOf(Math.min(...off))]);
        inSd.push(...f.atM.map((v, k) => (v - nearest[k]) / f.sdM));
      }
    }
    // each coordinate against the largest deviation of three
    expect(Math.sqrt(inSd.reduce((a, v) => a + v * v, 0) / inSd.length)).toBeLessThan(1.3);
  });

  it('bear one name in all scans and that of the mark, and place them', () => {
    const known = [0, 2, 3].map((k) => ({ name: `B${k}`, atM: SPHERES[k], sdM: [0.001, 0.001, 0.001] as Vector3 }));
    const seen = nameTargets(found, known);
    for (const t of seen) {
      const s = STANDS.find((o) => o.name === t.scan)!;
      const off = SPHERES.map((c) => Math.hypot(...seenFrom(s, c).map((v, k) => v - t.atM[k])));
      const which = off.indexOf(Math.min(...off));
      if (/^B/.test(t.target)) expect(t.target).toBe(`B${which}`);
      else expect([0, 2, 3]).not.toContain(which);
      // two of one name are one sphere
      for (const o of seen.filter((v) => v.target === t.target)) {
        const stand = STANDS.find((v) => v.name === o.scan)!;
        expect(Math.hypot(...seenFrom(stand, SPHERES[which]).map((v, k) => v - o.atM[k]))).toBeLessThan(0.003);
      }
    }
    const placed = registerScans({
      scans: STANDS.map((s) => s.name),
      seen,
      control: known,
      stations: [],
      levelSdRad: 0.003 * DEG,
    });
    placed.scans.forEach((s, k) => {
      expect(Math.hypot(...s.atM.map((v, i) => v - STANDS[k].at[i]))).toBeLessThan(0.002);
    });
  });

  it('are not named where two ways would do', () => {
    // a square looks the same after every quarter turn
    const square: Vector3[] = [
      [0, 0, 1],
      [5, 0, 1],
      [5, 5, 1],
      [0, 5, 1],
    ];
    expect(sameTargets(square, square)).toBeUndefined();
    const odd: Vector3[] = [...square, [2, 3, 1.5]];
    expect(sameTargets(odd, odd)?.pairs).toHaveLength(5);
  });
});

describe('discs in scans', () => {
  const RADIUS = 0.075;
  /** On a wall six metres before the scanner, some way round: two discs, a bright door and a bright stripe. */
  const discs: Vector3[] = [
    [-1.2, 6, 0.4],
    [2.1, 6, -0.3],
  ];
  const random = new Random(4, 'discs');
  const points: number[][] = [[], [], [], []];
  for (let e = -12; e < 12; e += 0.06)
    for (let t = -30; t < 30; t += 0.06) {
      const [u, w] = [Math.tan(t * DEG), Math.tan(e * DEG) / Math.cos(t * DEG)];
      const p = [6 * u, 6, 6 * w];
      const on = discs.some((d) => Math.hypot(p[0] - d[0], p[2] - d[2]) < RADIUS);
      const other = (p[0] > 0.2 && p[0] < 1.1 && p[2] < 0.8) || Math.abs(p[2] - 1) < 0.05;
      const noise = 1 + (0.002 * random.normal()) / Math.hypot(...p);
      p.forEach((v, k) => points[k].push(v * noise));
      points[3].push((on || other ? 30_000 : 9000) * (0.9 + 0.2 * random.uniform()));
    }
  const [x, y, z, bright] = points.map((c) => Float64Array.from(c));
  const all = findDiscs(x, y, z, bright, RADIUS);

  it('are found by their brightness, and nothing that is not round', () => {
    expect(all).toHaveLength(2);
    for (const d of discs) {
      const found = all.find((f) => Math.hypot(f.atM[0] - d[0], f.atM[2] - d[2]) < 0.02)!;
      const off = Math.hypot(...found.atM.map((v, k) => v - d[k]));
      expect(off).toBeLessThan(0.0015);
      expect(off).toBeLessThan(3 * found.sdM);
      expect(found.kind).toBe('disc');
    }
  });

  it('are none of another size', () => {
    expect(findDiscs(x, y, z, bright, 0.11)).toEqual([]);
  });
});
