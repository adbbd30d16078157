import { describe, expect, it } from 'vitest';
import { plausibleEpochs, type Trajectory } from '.';

const DEG = Math.PI / 180;
const path = (rows: Array<[latDeg: number, lonDeg: number, hM: number]>): Trajectory => ({
  week: 2423,
  sow: Float64Array.from(rows, (_, i) => i),
  latRad: Float64Array.from(rows, (r) => r[0] * DEG),
  lonRad: Float64Array.from(rows, (r) => r[1] * DEG),
  hEllM: Float64Array.from(rows, (r) => r[2]),
});
const drive = (n: number, lon = 8.47): Array<[number, number, number]> =>
  Array.from({ length: n }, (_, i) => [56.08 + i * 1e-5, lon, 45]);

describe('epochs that can be of the survey', () => {
  it('are not those without a solution, far away, or at absurd heights', () => {
    const odd: Array<[number, number, number]> = [
      [0, 0, 0],
      [-33, 151, 20],
      [56.08, 8.47, 4e6],
      [56.08, 8.47, Number.NaN],
    ];
    expect([...plausibleEpochs(path([...odd, ...drive(20)]))]).toEqual([0, 0, 0, 0, ...Array(20).fill(1)]);
  });

  it('may lie on both sides of the date line, and anywhere on a long flight', () => {
    const both = [...drive(10, 179.999), ...drive(10, -179.999)];
    expect(plausibleEpochs(path(both)).every((v) => v === 1)).toBe(true);
    const flight = Array.from({ length: 50 }, (_, i): [number, number, number] => [54 + i * 0.08, 8, 900]);
    expect(plausibleEpochs(path(flight)).every((v) => v === 1)).toBe(true);
  });

  it('are none where nothing is solved', () => {
    expect([...plausibleEpochs(path([[0, 0, 0]]))]).toEqual([0]);
  });
});
