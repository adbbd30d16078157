import { describe, expect, it } from 'vitest';
import { anglesFromRotation, DEG, ecefToNed, geodeticToEcef, GRS80, rotationFromAngles } from '../frames';
import { multiply3, Random, transpose3 } from '../numeric';
import { COUPLED, ErrorFilter, STATE, STATES } from './errorFilter';
import {
  EARTH_RATE_RADPS,
  GRADES,
  gravityEcef,
  inertialDefaults,
  inspectInertialData,
  Mechanisation,
  PROFILES,
} from '.';
import { History } from './history';
import { Smoother } from './smoother';
import { noSlip } from './wheels';

const N = STATES;

describe('gravity', () => {
  it('is normal gravity of GRS 80 at the equator, at 45° and at the pole (Moritz 1980)', () => {
    const of = (lat: number) => {
      const r = geodeticToEcef(GRS80, lat * DEG, 0.3, 0);
      const g = gravityEcef(r[0], r[1], r[2], new Float64Array(3));
      return Math.hypot(g[0], g[1], g[2]);
    };
    expect(of(0)).toBeCloseTo(9.7803267715, 6);
    expect(of(45)).toBeCloseTo(9.806199203, 6);
    expect(of(90)).toBeCloseTo(9.8321863685, 6);
  });
});

/** A unit at rest on the Earth: what it measures, and its attitude. */
function atRest(latDeg: number, roll: number, pitch: number, heading: number) {
  const [lat, lon] = [latDeg * DEG, 0.15];
  const r = geodeticToEcef(GRS80, lat, lon, 40);
  const axes = ecefToNed(lat, lon);
  const c = multiply3(transpose3(axes), rotationFromAngles(roll * DEG, pitch * DEG, heading * DEG));
  const g = gravityEcef(r[0], r[1], r[2], new Float64Array(3));
  const body = (v: ArrayLike<number>) => [0, 1, 2].map((k) => c[k] * v[0] + c[3 + k] * v[1] + c[6 + k] * v[2]);
  return { r, c, axes, rate: body([0, 0, EARTH_RATE_RADPS]), force: body([-g[0], -g[1], -g[2]]) };
}

describe('mechanisation', () => {
  it('stays where it is for ten minutes when it measures gravity and the turn of the Earth alone', () => {
    const { r, c, axes, rate, force } = atRest(56, 3, -2, 120);
    const m = new Mechanisation();
    m.r.set(r);
    m.c.set(c);
    for (let i = 0; i < 120000; i++) m.step(rate[0], rate[1], rate[2], force[0], force[1], force[2], 0.005);
    expect(Math.hypot(m.r[0] - r[0], m.r[1] - r[1], m.r[2] - r[2])).toBeLessThan(1e-4);
    const { rollRad, pitchRad, headingRad } = anglesFromRotation(multiply3(axes, m.c));
    expect(rollRad / DEG).toBeCloseTo(3, 7);
    expect(pitchRad / DEG).toBeCloseTo(-2, 7);
    expect(headingRad / DEG).toBeCloseTo(120, 7);
  });

  it('follows a unit that spins on a table: after whole turns it is where it was', () => {
    const { r, c, rate, force } = atRest(56, 0, 0, 0);
    const m = new Mechanisation();
    m.r.set(r);
    m.c.set(c);
    // level, turning about its own z axis at 36°/s: the Earth's rate turns in the body the other way
    const spin = 36 * DEG;
    for (let i = 0; i < 4000; i++) {
      const a = spin * (i + 0.5) * 0.005;
      const x = rate[0] * Math.cos(a) + rate[1] * Math.sin(a);
      const y = -rate[0] * Math.sin(a) + rate[1] * Math.cos(a);
      m.step(x, y, rate[2] + spin, force[0], force[1], force[2], 0.005);
    }
    // specific force is along z up to the deflection of gravity at 40 m of height
    for (let k = 0; k < 9; k++) expect(m.c[k]).toBeCloseTo(c[k], 8);
    expect(Math.hypot(m.r[0] - r[0], m.r[1] - r[1], m.r[2] - r[2])).toBeLessThan(1e-3);
  });
});

/** Dense helpers of the test's own, to compare with. */
const times = (a: Float64Array, b: Float64Array, n = N) => {
  const out = new Float64Array(n * n);
  for (let i = 0; i < n; i++)
    for (let k = 0; k < n; k++) for (let j = 0; j < n; j++) out[i * n + j] += a[i * n + k] * b[k * n + j];
  return out;
};
const transposed = (a: Float64Array, n = N) => {
  const out = new Float64Array(n * n);
  for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) out[j * n + i] = a[i * n + j];
  return out;
};
function inverse(a: Float64Array, n = N): Float64Array {
  const m = Float64Array.from(a);
  const out = new Float64Array(n * n);
  for (let i = 0; i < n; i++) out[i * (n + 1)] = 1;
  for (let c = 0; c < n; c++) {
    let pivot = c;
    for (let r = c + 1; r < n; r++) if (Math.abs(m[r * n + c]) > Math.abs(m[pivot * n + c])) pivot = r;
    for (let j = 0; j < n; j++) {
      [m[c * n + j], m[pivot * n + j]] = [m[pivot * n + j], m[c * n + j]];
      [out[c * n + j], out[pivot * n + j]] = [out[pivot * n + j], out[c * n + j]];
    }
    const d = 1 / m[c * n + c];
    for (let j = 0; j < n; j++) {
      m[c * n + j] *= d;
      out[c * n + j] *= d;
    }
    for (let r = 0; r < n; r++) {
      const f = m[r * n + c];
      if (r === c || f === 0) continue;
      for (let j = 0; j < n; j++) {
        m[r * n + j] -= f * m[c * n + j];
        out[r * n + j] -= f * out[c * n + j];
      }
    }
  }
  return out;
}

describe('smoothing', () => {
  it('gives what Rauch, Tung and Striebel’s formulas give with full inverses', () => {
    const random = new Random(4);
    const nodes = 6;
    const history = new History(nodes);
    let node = 0;
    const filter = new ErrorFilter(PROFILES.tactical.noise, (m, h, gain, s, y) =>
      history.putUpdate(node, m, h, gain, s, y),
    );
    filter.start(Float64Array.from({ length: N }, () => random.between(0.5, 2)));
    const m = new Mechanisation();
    const { r, c } = atRest(56, 1, 2, 40);
    m.r.set(r);
    m.c.set(c);
    const kept: Array<{ before: Float64Array; after: Float64Array; phi: Float64Array }> = [];
    for (; node < nodes; node++) {
      const phi = new Float64Array(N * N);
      if (node > 0) {
        for (let s = 0; s < 20; s++) {
          m.step(0.2, -0.1, 0.3, 1, 0.5, -9.8, 0.005);
          filter.gather(m, 0.2, -0.1, 0.3, 1, 0.5, -9.8, 0.005);
        }
        if (node === 3) filter.forgetAntenna();
        filter.propagate(m.r, 1e-3, 1e-2);
        history.putTransition(node, filter.phi, filter.keep);
        for (let i = 0; i < N; i++)
          for (let j = 0; j < N; j++)
            phi[i * N + j] = i < COUPLED ? filter.phi[i * N + j] : i === j ? filter.keep[i] : 0;
      }
      const before = Float64Array.from(filter.p);
      for (let u = 0; u < 2; u++) {
        const h = Float64Array.from({ length: 2 * N }, () => (random.uniform() < 0.4 ? random.normal() : 0));
        const { x } = filter.update(h, [random.normal(), random.normal()], [0.3, 0.1, 0.1, 0.4], 2, Infinity);
        history.takenAt(node).forEach((v, i, taken) => (taken[i] = v + x![i]));
      }
      history.putCovariance(node, filter.p);
      kept.push({ before, after: Float64Array.from(filter.p), phi });
    }
    // textbook: errors left after the updates of each node, and their covariance
    const expected: Array<{ x: Float64Array; p: Float64Array }> = new Array(nodes);
    expected[nodes - 1] = { x: new Float64Array(N), p: kept[nodes - 1].after };
    for (let k = nodes - 2; k >= 0; k--) {
      const g = times(times(kept[k].after, transposed(kept[k + 1].phi)), inverse(kept[k + 1].before));
      const left = expected[k + 1].x.map((v, i) => v + history.takenAt(k + 1)[i]);
      const x = new Float64Array(N);
      for (let i = 0; i < N; i++) for (let j = 0; j < N; j++) x[i] += g[i * N + j] * left[j];
      const d = expected[k + 1].p.map((v, i) => v - kept[k + 1].before[i]);
      const spread = times(times(g, d), transposed(g));
      expected[k] = { x, p: kept[k].after.map((v, i) => v + spread[i]) };
    }
    const seen: number[] = [];
    const smoother = new Smoother((k, after, before, spread) => {
      seen.push(k);
      for (let i = 0; i < N; i++) {
        expect(after[i]).toBeCloseTo(expected[k].x[i], 7);
        expect(before[i]).toBeCloseTo(expected[k].x[i] + history.takenAt(k)[i], 7);
        expect(spread.variance(i)).toBeCloseTo(expected[k].p[i * (N + 1)], 7);
      }
      const block = new Float64Array(45);
      spread.block(0, 9, block, 0);
      expect(block[1]).toBeCloseTo(expected[k].p[1], 7);
      expect(block[9]).toBeCloseTo(expected[k].p[N + 1], 7);
    });
    smoother.over(history, nodes);
    expect(seen).toEqual([5, 4, 3, 2, 1, 0]);
  });
});

describe('what inertial data show of themselves', () => {
  const data = (factor: number) => ({
    week: 2423,
    rateHz: 100,
    sow: Float64Array.from({ length: 500 }, (_, i) => 100 + i / 100 + (i > 200 ? 0.3 : 0)),
    gyroRadps: new Float64Array(1500).fill(0.001),
    accelMps2: Float64Array.from({ length: 1500 }, (_, i) => (i % 3 === 2 ? -9.81 * factor : 0)),
  });

  it('names a gap with its time and length', () => {
    const { gaps, findings } = inspectInertialData(data(1), 'unit.h5');
    expect(gaps).toHaveLength(1);
    expect(gaps[0].lengthS).toBeCloseTo(0.31, 9);
    expect(findings.map((f) => f.code)).toEqual(['inertial-gap']);
    expect(findings[0].place).toContain('102.000');
  });

  it('knows gravity of one, axes upside down, and turns in degrees', () => {
    const g = inspectInertialData(data(1 / 9.80665)).findings.find((f) => f.code === 'inertial-force-unit');
    expect(g?.severity).toBe('error');
    expect(g?.effect).toContain('units of g');
    expect(inspectInertialData(data(-1)).findings.some((f) => f.code === 'inertial-axes')).toBe(true);
    const degrees = data(1);
    degrees.gyroRadps[900] = 25;
    expect(inspectInertialData(degrees).findings.some((f) => f.code === 'inertial-rate-unit')).toBe(true);
  });
});

describe('wheels that point a degree to the right of the unit', () => {
  const { r, c } = atRest(56, 0, 0, 30);
  /** Drives at 10 m/s where the wheels point, 2° up against the unit's floor. */
  function driven(askew: number[]) {
    const m = new Mechanisation();
    m.r.set(r);
    m.c.set(c);
    const [yaw, up] = [1 * DEG, 2 * DEG];
    const body = [10 * Math.cos(yaw) * Math.cos(up), 10 * Math.sin(yaw) * Math.cos(up), -10 * Math.sin(up)];
    for (let k = 0; k < 3; k++) m.v[k] = c[3 * k] * body[0] + c[3 * k + 1] * body[1] + c[3 * k + 2] * body[2];
    const filter = new ErrorFilter(PROFILES.tactical.noise);
    const sd = new Float64Array(N).fill(1e-6);
    sd.fill(3 * DEG, STATE.wheels, N);
    filter.start(sd);
    return { m, filter, found: noSlip(filter, m, inertialDefaults('vehicle'), [0, 0, 0], askew)! };
  }

  it('are found from one straight drive whose velocity is known', () => {
    const { found, filter } = driven([0, 0]);
    // errors are what is thought less what is true
    expect(-found[STATE.wheels] / DEG).toBeCloseTo(1, 1);
    expect(-found[STATE.wheels + 1] / DEG).toBeCloseTo(2, 0);
    // a side SD of 5 cm/s at 10 m/s is 0.29°
    const sd = Math.sqrt(filter.p[STATE.wheels * (N + 1)]) / DEG;
    expect(sd).toBeCloseTo((0.05 / 10) * (180 / Math.PI), 2);
  });

  it('say nothing more once they are known, nor while it hardly moves', () => {
    const { found } = driven([Math.tan(1 * DEG), Math.tan(2 * DEG) / Math.cos(1 * DEG)]);
    expect(Math.abs(found[STATE.wheels]) / DEG).toBeLessThan(0.001);
    expect(Math.abs(found[STATE.wheels + 1]) / DEG).toBeLessThan(0.001);
    const { m, filter } = driven([0, 0]);
    m.v.fill(0.1);
    expect(noSlip(filter, m, inertialDefaults('vehicle'), [0, 0, 0], [0, 0])).toBeUndefined();
  });
});

describe('profiles of instruments', () => {
  it('grow from grade to grade in every figure, within what is published of them', () => {
    GRADES.slice(1).forEach((grade, k) => {
      const [finer, coarser] = [PROFILES[GRADES[k]].noise, PROFILES[grade].noise];
      for (const key of Object.keys(coarser) as Array<keyof typeof coarser>)
        if (key !== 'driftTauS') expect(coarser[key]).toBeGreaterThan(finer[key]);
    });
    expect(PROFILES.navigation.noise.gyroBiasDegPerHour).toBeLessThanOrEqual(0.01);
    expect(PROFILES.tactical.noise.gyroBiasDegPerHour).toBeGreaterThanOrEqual(1);
    expect(PROFILES.consumer.noise.gyroBiasDegPerHour).toBeGreaterThan(100);
    expect(GRADES.every((g) => PROFILES[g].source.length > 40)).toBe(true);
  });
});
