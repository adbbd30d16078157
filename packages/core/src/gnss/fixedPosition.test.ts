import { describe, expect, it } from 'vitest';
import { addObservation, Random, solveNormal } from '../numeric';
import { takeOutAir, type LeaningEpoch } from './airBetween';
import { fixedPosition } from './fixedPosition';
import { GNSS_NOISE_DEFAULTS, modelOf, phaseVariance } from './noiseModel';
import { keyOf, shellMapping, wetMapping, type Single } from './single';

const GROUPS = 2;
const LAMBDA: Array<[number, number]> = [
  [0.19029, 0.24421],
  [0.19029, 0.25483],
];
const NOISE = modelOf({ ...GNSS_NOISE_DEFAULTS, carrierM: 0.002, carrierMultipathM: 0.004 }, GROUPS);

/** Satellites all over the sky with phases of a known place, clocks, cycles and air. */
function sky(random: Random, at: number[], air: { troposphere: number; ionosphere: number; vertical: number }) {
  const rows: Single[] = [];
  const integers = new Map<number, number>();
  const clocks = Array.from({ length: 4 }, () => random.normal());
  for (let index = 0; index < 18; index++) {
    const sinEl = random.between(0.2, 0.98);
    const azimuth = random.between(0, 2 * Math.PI);
    const flat = Math.sqrt(1 - sinEl * sinEl);
    const unit: [number, number, number] = [flat * Math.cos(azimuth), flat * Math.sin(azimuth), -sinEl];
    const group = index % 2;
    const shellDifference = 2e-3 * random.normal();
    const phaseM = [0, 1].map((band) => {
      const n = Math.round(random.between(-50, 50));
      integers.set(keyOf(index, band), n);
      const advance = (LAMBDA[group][band] / LAMBDA[group][0]) ** 2;
      return (
        -(unit[0] * at[0] + unit[1] * at[1] + unit[2] * at[2]) +
        clocks[group + GROUPS * band] +
        n * LAMBDA[group][band] +
        (air.troposphere * 1.001) / Math.sqrt(0.002001 + sinEl * sinEl) -
        advance * (air.ionosphere * shellMapping(sinEl) + air.vertical * shellDifference)
      );
    }) as [number, number];
    rows.push({
      satellite: `G${index}`,
      index,
      group,
      sinEl,
      unit,
      shellDifference,
      wavelengthM: LAMBDA[group],
      codeM: [0, 0],
      phaseM,
      arc: [1, 1],
      rawArc: [1, 1],
      told: [false, false],
      apart: false,
      wet: wetMapping(sinEl),
      wetDifference: 0,
    });
  }
  return { rows, integers };
}

describe('positions of fixed epochs', () => {
  it('are those of least squares with the clocks as unknowns', () => {
    const random = new Random(3);
    const { rows, integers } = sky(random, [0.4, -0.2, 0.3], { troposphere: 0, ionosphere: 0, vertical: 0 });
    for (const r of rows) r.phaseM = r.phaseM.map((v) => v + 0.004 * random.normal()) as [number, number];
    integers.delete(keyOf(3, 1));
    rows[5].phaseM[0] = NaN;
    const found = fixedPosition(rows, NOISE, integers)!;
    const n = 7;
    const normal = new Float64Array(n * n);
    const b = new Float64Array(n);
    const used: Array<{ line: Float64Array; y: number; w: number }> = [];
    for (const r of rows)
      for (const band of [0, 1]) {
        const whole = integers.get(keyOf(r.index, band));
        if (whole === undefined || Number.isNaN(r.phaseM[band])) continue;
        const line = new Float64Array(n);
        for (let k = 0; k < 3; k++) line[k] = -r.unit[k];
        line[3 + r.group + GROUPS * band] = 1;
        used.push({
          line,
          y: r.phaseM[band] - whole * r.wavelengthM[band],
          w: 1 / phaseVariance(NOISE.bands[r.group + GROUPS * band], r.sinEl),
        });
      }
    for (const u of used) addObservation(normal, b, n, u.line, u.y, u.w);
    const q = solveNormal(normal, b, n)!;
    let sum = 0;
    for (const u of used) sum += u.w * (u.y - u.line.reduce((s, v, i) => s + v * b[i], 0)) ** 2;
    expect(found.phases).toBe(34);
    expect(found.variance).toBeCloseTo(sum / (34 - 7), 9);
    for (let i = 0; i < 3; i++) {
      expect(found.dM[i]).toBeCloseTo(b[i], 9);
      for (let j = 0; j < 3; j++) expect(found.covariance[3 * i + j]).toBeCloseTo(q[n * i + j], 12);
    }
  });

  it('lose what the air leaves over once a session has told it, and state what remains', () => {
    const random = new Random(5);
    const at = [1, 2, 3];
    const air = { troposphere: 0.006, ionosphere: -0.01, vertical: 6 };
    const sd = { troposphereM: 0.005, ionosphereM: 0.008, verticalM: 5, restM: 0 };
    const epochs: LeaningEpoch[] = [];
    let before = 0;
    for (let k = 0; k < 900; k++) {
      const { rows, integers } = sky(random, at, air);
      const f = fixedPosition(rows, NOISE, integers, sd)!;
      before = Math.max(before, Math.hypot(...at.map((v, i) => f.dM[i] - v)));
      epochs.push({ sow: k, xyzM: f.dM, covariance: f.covariance, share: f.air, sd });
    }
    expect(before).toBeGreaterThan(0.02);
    const stated = Math.sqrt(epochs[0].covariance[8]);
    takeOutAir(epochs, 2);
    const after = Math.max(...epochs.map((e) => Math.hypot(...at.map((v, i) => e.xyzM[i] - v))));
    expect(after).toBeLessThan(0.002);
    expect(Math.sqrt(epochs[0].covariance[8])).toBeLessThan(stated);
    expect(epochs[0].covariance[0]).toBeGreaterThan(0);
  });
});
