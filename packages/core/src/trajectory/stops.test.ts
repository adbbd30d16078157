import { describe, expect, it } from 'vitest';
import { Random } from '../numeric';
import { findStops, lastingShare, STOP_DEFAULTS, type Trajectory } from '.';

const RAD_N = 1 / 6380000;
/** A walk of 20 s north, 30 s still, 20 s on, once a second, with 3 mm of noise. */
function walk(solution: (i: number) => number): Trajectory {
  const random = new Random(4, 'walk');
  const n = 80;
  const column = (f: (i: number) => number) => Float64Array.from({ length: n }, (_, i) => f(i));
  const north = (i: number) => (i < 20 ? i : i < 55 ? 20 : i - 35);
  const noise = () => 0.003 * random.normal();
  return {
    week: 2423,
    sow: column((i) => 1000 + i),
    lonRad: column(() => 0.14),
    point: 'antenna',
    latRad: column((i) => 0.98 + (north(i) + noise()) * RAD_N),
    hEllM: column(() => 52.3 + noise()),
    sdNM: column(() => 0.004),
    sdEM: column(() => 0.004),
    sdDM: column(() => 0.008),
    solution: Uint8Array.from({ length: n }, (_, i) => solution(i)),
  };
}

describe('marks from stops', () => {
  it('are found where the antenna stands still, with its height taken off', () => {
    const [stop, ...more] = findStops(
      walk(() => 1),
      { ...STOP_DEFAULTS, antennaHeightM: 1.8 },
    );
    expect(more).toEqual([]);
    expect(stop.startSow).toBeGreaterThanOrEqual(1021);
    expect(stop.endSow).toBeLessThanOrEqual(1055);
    expect(stop.endSow - stop.startSow).toBeGreaterThan(26);
    expect((stop.latRad - 0.98) / RAD_N).toBeCloseTo(20, 1);
    expect(Math.abs(stop.hEllM - 50.5)).toBeLessThan(0.003);
    expect(stop.solution).toBe('fixed');
    // what multipath shares over half a minute stays, and centring is in it: 4 mm · 0.86 and 4 mm
    expect(stop.sdM[0]).toBeGreaterThan(0.0045);
    expect(stop.sdM[0]).toBeLessThan(0.006);
  });
  it('are called float when they are made of float positions, whatever few are fixed', () => {
    const [stop] = findStops(
      walk((i) => (i % 3 === 0 ? 1 : 2)),
      STOP_DEFAULTS,
    );
    expect(stop.solution).toBe('float');
    expect(stop.fixedShare).toBeLessThan(0.5);
  });
  it('come from a list as well, and a time without epochs is refused', () => {
    const at = { name: 'K1', week: 2423, startSow: 1025, endSow: 1035, antennaHeightM: 2 };
    const [stop] = findStops(
      walk(() => 1),
      STOP_DEFAULTS,
      [at],
    );
    expect([stop.name, stop.epochs, stop.antennaHeightM]).toEqual(['K1', 11, 2]);
    expect(() =>
      findStops(
        walk(() => 1),
        STOP_DEFAULTS,
        [{ ...at, startSow: 9000, endSow: 9010 }],
      ),
    ).toThrow(/K1/);
  });
  it('are not made of the path of an inertial unit', () => {
    expect(() => findStops({ ...walk(() => 1), point: 'imu' }, STOP_DEFAULTS)).toThrow(/antenna/);
  });
  it('know how much a mean keeps of errors that fade slowly', () => {
    // ∫∫ e^(−|s−t|/τ) ds dt / T², by the trapezoidal rule
    const [T, tau, n] = [45, 60, 600];
    let sum = 0;
    for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) sum += Math.exp((-Math.abs(i - j) * T) / n / tau);
    expect(lastingShare(T, tau)).toBeCloseTo(sum / n / n, 3);
  });
});
