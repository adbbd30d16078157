import { describe, expect, it } from 'vitest';
import { GNSS_NOISE_DEFAULTS, modelOf } from './noiseModel';
import { phaseResiduals, SkyRecorder } from './skyRecord';
import { keyOf, type Single, type SingleEpoch } from './single';

const LAMBDA = 0.19;
const NOISE = modelOf(GNSS_NOISE_DEFAULTS, 1);

function single(index: number, unit: [number, number, number], phaseM: number): Single {
  return {
    satellite: `G0${index + 1}`,
    index,
    group: 0,
    sinEl: 0.7,
    shellDifference: 0,
    unit,
    arc: [1, 1],
    rawArc: [1, 1],
    wet: 1.4,
    wetDifference: 0,
    told: [false, false],
    apart: false,
    wavelengthM: [LAMBDA, LAMBDA],
    codeM: [NaN, NaN],
    phaseM: [phaseM, NaN],
  };
}

describe('residuals by satellite', () => {
  it('are what integers, position and a shared clock leave over', () => {
    const units: Array<[number, number, number]> = [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
      [-1, 0, 0],
    ];
    const dM = [0.3, -0.2, 0.1];
    const left = [0.004, -0.004, 0.006, -0.006];
    const integers = new Map(units.map((_, k) => [keyOf(k, 0), 10 * k] as [number, number]));
    // phase = −unit · d + n λ + clock + what is left; equal weights, so that a clock takes the mean out
    const rows = units.map((u, k) =>
      single(k, u, -(u[0] * dM[0] + u[1] * dM[1] + u[2] * dM[2]) + 10 * k * LAMBDA + 77 + left[k]),
    );
    const found = phaseResiduals(rows, NOISE, integers, dM);
    found.forEach(([row, band, v], k) => {
      expect([row.index, band]).toEqual([k, 0]);
      expect(v).toBeCloseTo(left[k], 9);
    });
  });
});

describe('the record of the sky', () => {
  const epoch = (sow: number, rows: Single[]): SingleEpoch => ({
    epoch: 0,
    sow,
    nearM: Float64Array.of(6378137, 0, 0),
    codeSdM: 1,
    rows,
  });
  it('has directions from where the receiver stands: on the equator x is up, z north, y east', () => {
    const recorder = new SkyRecorder(10);
    const half = Math.SQRT1_2;
    const row = { ...single(0, [half, half, 0], 0), sinEl: half };
    recorder.begin([epoch(1, [row, { ...single(1, [half, 0, half], 0), sinEl: half }])], [], NOISE);
    const { elevationDeg, azimuthDeg } = recorder.result!;
    expect(elevationDeg[0]).toBeCloseTo(45, 4);
    expect(azimuthDeg[0]).toBeCloseTo(90, 3);
    expect(azimuthDeg[1] % 360).toBeCloseTo(0, 3);
  });
});
