import { describe, expect, it } from 'vitest';
import { Random } from '../../numeric/random';
import { type Matrix3, type Vector3 } from '../../numeric/matrix3';
import { registerScans, type RegisterRequest, type Registered } from '.';

const DEG = Math.PI / 180;
const LEVEL = 0.003 * DEG;
const RADIUS = 6_380_000;

interface Truth {
  request: RegisterRequest;
  poses: Map<string, { atM: Vector3; rotation: Matrix3 }>;
  targets: Map<string, Vector3>;
}

/** A rotation written out: bearing of y, then tilts of a scanner that stands nearly upright on a round Earth. */
function rotationOf(bearing: number, tiltX: number, tiltY: number, at: Vector3): Matrix3 {
  const z = [at[0] / RADIUS + tiltX, at[1] / RADIUS + tiltY, 1];
  const length = Math.hypot(...z);
  const up = z.map((v) => v / length);
  const ahead = [Math.sin(bearing), Math.cos(bearing), 0];
  const dot = ahead.reduce((s, v, k) => s + v * up[k], 0);
  const y = ahead.map((v, k) => v - dot * up[k]);
  const ly = Math.hypot(...y);
  const [y0, y1, y2] = y.map((v) => v / ly);
  const x = [y1 * up[2] - y2 * up[1], y2 * up[0] - y0 * up[2], y0 * up[1] - y1 * up[0]];
  return Float64Array.of(x[0], y0, up[0], x[1], y1, up[1], x[2], y2, up[2]);
}

/** Six scanners along eighty metres, with spheres between them, four of which are surveyed. */
function drawn(seed: number): Truth {
  const r = new Random(seed, 'register');
  const targets = new Map<string, Vector3>();
  for (let k = 0; k < 14; k++) targets.set(`t${k}`, [6 * k + r.between(-2, 2), r.between(-9, 9), r.between(0, 4)]);
  const poses: Truth['poses'] = new Map();
  const seen: RegisterRequest['seen'] = [];
  const out = seen as Array<RegisterRequest['seen'][number]>;
  for (let i = 0; i < 6; i++) {
    const atM: Vector3 = [16 * i + r.between(-1, 1), r.between(-3, 3), r.between(1.4, 1.8)];
    const rotation = rotationOf(r.between(0, 6.28), LEVEL * r.normal(), LEVEL * r.normal(), atM);
    poses.set(`s${i}`, { atM, rotation });
    for (const [target, p] of targets) {
      const d = p.map((v, k) => v - atM[k]);
      if (Math.hypot(...d) > 24) continue;
      const own = [0, 1, 2].map((k) => rotation[k] * d[0] + rotation[3 + k] * d[1] + rotation[6 + k] * d[2]);
      out.push({ scan: `s${i}`, target, sdM: 0.002, atM: own.map((v) => v + 0.002 * r.normal()) as Vector3 });
    }
  }
  const control = ['t0', 't4', 't9', 't13'].map((name) => ({
    name,
    atM: targets.get(name)!.map((v) => v + 0.003 * r.normal()) as Vector3,
    sdM: [0.003, 0.003, 0.003] as Vector3,
  }));
  return {
    poses,
    targets,
    request: { scans: [...poses.keys()], seen, control, stations: [], levelSdRad: LEVEL, radiusM: RADIUS },
  };
}

/** Errors of poses in their deviations: places, and turns about the scanner's axes. */
function errors({ poses }: Truth, { scans }: Registered): number[] {
  return scans.flatMap((s) => {
    const t = poses.get(s.name)!;
    const place = s.atM.map((v, k) => (v - t.atM[k]) / Math.sqrt(s.covariance[7 * k]));
    // what is left of a turn: the skew part of Rᵀ·R'
    const d = (a: number, b: number) =>
      [0, 1, 2].reduce((sum, k) => sum + t.rotation[3 * k + a] * s.rotation[3 * k + b], 0);
    const turn = [(d(2, 1) - d(1, 2)) / 2, (d(0, 2) - d(2, 0)) / 2, (d(1, 0) - d(0, 1)) / 2];
    return [...place, ...turn.map((v, k) => v / Math.sqrt(s.covariance[7 * (3 + k)]))];
  });
}
const rms = (v: number[]) => Math.sqrt(v.reduce((s, x) => s + x * x, 0) / v.length);
const SEEDS = Array.from({ length: 20 }, (_, k) => k + 1);

describe('scans placed by targets', () => {
  const all = SEEDS.map((s) => {
    const truth = drawn(s);
    return { truth, found: registerScans(truth.request) };
  });

  it('have poses as far off as their deviations say', () => {
    const off = all.flatMap(({ truth, found }) => errors(truth, found));
    expect(rms(off)).toBeGreaterThan(0.85);
    expect(rms(off)).toBeLessThan(1.15);
    expect(Math.max(...off.map(Math.abs))).toBeLessThan(4.5);
    const sigma = all.map(({ found }) => found.sigma0);
    expect(rms(sigma)).toBeGreaterThan(0.93);
    expect(rms(sigma)).toBeLessThan(1.07);
  });

  it('agree with each other, and lose nothing that is good', () => {
    for (const { found } of all) {
      expect(found.rejected.length).toBeLessThan(2);
      expect(found.loose).toBe(false);
      for (const p of found.pairs) expect(p.rmsM).toBeLessThan(0.009);
    }
  });

  it('name a target that another scan knows by another name, and a mark that is wrong', () => {
    const { request, targets } = drawn(3);
    const seen = request.seen.map((s) => {
      const d = s.scan === 's2' && s.target === 't5' ? 0.3 : 0;
      return { ...s, atM: s.atM.map((v, k) => v + (k === 0 ? d : 0)) as Vector3 };
    });
    const swapped = registerScans({ ...request, seen });
    expect(swapped.rejected[0]).toMatchObject({ scan: 's2', target: 't5' });
    expect(Math.abs(swapped.rejected[0].offM - 0.3)).toBeLessThan(0.02);
    expect(swapped.rejected).toHaveLength(1);
    const control = request.control.map((c) =>
      c.name === 't4' ? { ...c, atM: [c.atM[0], c.atM[1], c.atM[2] + 0.11] as Vector3 } : c,
    );
    const wrong = registerScans({ ...request, control });
    expect(wrong.rejected.map((r) => [r.what, r.target])).toEqual([['control', 't4']]);
    const t4 = wrong.targets.find((t) => t.name === 't4')!;
    expect(Math.abs(t4.atM[2] - targets.get('t4')![2])).toBeLessThan(0.01);
  });

  it('name a station that bears the name of another scan, and whose place it is', () => {
    const { request, poses } = drawn(6);
    const at = (name: string) => poses.get(name)!.atM;
    const stations = request.scans.map((name) => ({
      name,
      atM: at(name === 's1' ? 's4' : name),
      sdM: [0.004, 0.004, 0.004] as Vector3,
    }));
    const { rejected } = registerScans({ ...request, stations });
    expect(rejected).toHaveLength(1);
    expect(rejected[0]).toMatchObject({ what: 'station', scan: 's1', standsAt: 's4' });
    expect(rejected[0].offM).toBeCloseTo(Math.hypot(...at('s1').map((v, k) => v - at('s4')[k])), 1);
  });

  it('keep the frame of the first where nothing is known, and agree all the same', () => {
    const { request, poses } = drawn(5);
    const free = registerScans({ ...request, control: [], radiusM: undefined });
    expect(free.loose).toBe(true);
    for (const v of free.scans[0].atM) expect(Math.abs(v)).toBeLessThan(1e-9);
    // distances between scanners are those of the truth
    const between = (at: (n: string) => Vector3) => Math.hypot(...[0, 1, 2].map((k) => at('s5')[k] - at('s0')[k]));
    const found = between((n) => free.scans.find((s) => s.name === n)!.atM);
    expect(Math.abs(found - between((n) => poses.get(n)!.atM))).toBeLessThan(0.02);
  });

  it('need a station and its bearing where there are no targets', () => {
    const { poses, request } = drawn(7);
    const { atM, rotation } = poses.get('s1')!;
    const stations = [
      {
        name: 's1',
        atM,
        sdM: [0.002, 0.002, 0.002] as Vector3,
        bearingRad: Math.atan2(rotation[1], rotation[4]),
        sdBearingRad: 0.002 * DEG,
      },
    ];
    const alone = registerScans({ ...request, scans: ['s1'], seen: [], control: [], stations });
    expect(alone.scans[0].atM.map((v, k) => Math.abs(v - atM[k]) < 1e-9)).toEqual([true, true, true]);
    expect(() => registerScans({ ...request, seen: request.seen.filter((s) => s.scan !== 's4') })).toThrow(
      /Nothing joins s4/,
    );
  });
});
