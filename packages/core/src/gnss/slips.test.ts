import { describe, expect, it } from 'vitest';
import { Random } from '../numeric';
import { GNSS_NOISE_DEFAULTS, modelOf } from './noiseModel';
import { learnCodeNoise } from './sessionNoise';
import { type Single, type SingleEpoch } from './single';
import { elevationVariance, findSlips } from './slips';

const LAMBDA: [number, number] = [0.1903, 0.2442];

interface Strength {
  code: number;
  codePath: number;
  phase: number;
  tauS: number;
}

/** A receiver that wanders under a dozen satellites: phases and codes as they would be, with noise over the sine. */
function session(seed: number, seconds: number, s: Strength, bands = 2): SingleEpoch[] {
  const random = new Random(seed, 'slips');
  const sky = Array.from({ length: 12 }, (_, index) => {
    const sinEl = random.between(0.25, 0.98);
    const turn = random.between(0, 2 * Math.PI);
    const flat = Math.sqrt(1 - sinEl * sinEl);
    const unit: Single['unit'] = [flat * Math.cos(turn), flat * Math.sin(turn), sinEl];
    return {
      index,
      sinEl,
      unit,
      cycles: [0, 1].map(() => Math.round(random.between(-1e6, 1e6))),
      path: [random.normal(), random.normal()],
    };
  });
  const at = [0, 0, 0];
  const keep = Math.exp(-1 / s.tauS);
  return Array.from({ length: seconds }, (_, t) => {
    for (let k = 0; k < 3; k++) at[k] += random.normal();
    const clock = 40 * t + random.normal();
    const rows = sky.map((q): Single => {
      const range = clock - q.unit.reduce((v, u, k) => v + u * at[k], 0);
      const of = (b: number, f: () => number) => (b < bands ? f() : Number.NaN);
      const codeM = [0, 1].map((b) =>
        of(b, () => {
          q.path[b] = keep * q.path[b] + Math.sqrt(1 - keep * keep) * random.normal();
          return range + (s.code * random.normal()) / q.sinEl + (s.codePath * q.path[b]) / q.sinEl;
        }),
      ) as [number, number];
      const phaseM = [0, 1].map((b) =>
        of(b, () => range + q.cycles[b] * LAMBDA[b] + (s.phase * random.normal()) / q.sinEl),
      ) as [number, number];
      return {
        satellite: `G${String(q.index + 1).padStart(2, '0')}`,
        index: q.index,
        group: 0,
        sinEl: q.sinEl,
        unit: q.unit,
        wavelengthM: LAMBDA,
        codeM,
        phaseM,
        shellDifference: 0,
        wet: 1,
        wetDifference: 0,
        arc: [1, 1],
        rawArc: [1, 1],
        told: [false, false],
        apart: false,
      };
    });
    return { epoch: t, sow: 1000 + t, nearM: Float64Array.of(6378137, 0, 0), codeSdM: 1, rows };
  });
}

const USUAL: Strength = { code: 0.4, codePath: 0.3, phase: 0.003, tauS: 30 };
const model = () => modelOf(GNSS_NOISE_DEFAULTS, 1);

/** Adds cycles to a phase from an epoch on. */
function slip(epochs: SingleEpoch[], from: number, index: number, band: number, cycles: number): void {
  for (const e of epochs.slice(from)) e.rows[index].phaseM[band] += cycles * LAMBDA[band];
}

describe('lost counts', () => {
  it('of one cycle on one band are found against the other satellites, with no word from the receiver', () => {
    for (const bands of [1, 2]) {
      const epochs = session(3, 300, USUAL, bands);
      slip(epochs, 120, 4, bands - 1, 1);
      slip(epochs, 200, 7, 0, -1409);
      const found = findSlips(epochs, model());
      expect(found).toEqual([
        { sow: 1120, satellite: 'G05', band: bands - 1, at: 'either', sign: 'other satellites' },
        { sow: 1200, satellite: 'G08', band: 0, at: 'either', sign: 'other satellites' },
      ]);
      const arc = (k: number, index: number, band: number) => epochs[k].rows[index].arc[band];
      expect(arc(121, 4, bands - 1)).toBe(arc(120, 4, bands - 1));
      expect(arc(120, 4, bands - 1)).not.toBe(arc(119, 4, bands - 1));
      // the other satellites and bands go on
      expect(new Set(epochs.map((_, k) => arc(k, 2, 0))).size).toBe(1);
      if (bands === 2) expect(new Set(epochs.map((_, k) => arc(k, 4, 0))).size).toBe(1);
    }
  });
  it('of four satellites at once leave the other eight alone', () => {
    const epochs = session(5, 250, USUAL);
    for (const [i, n] of [3, -7, 40, 1].entries()) slip(epochs, 100, i, 1, n);
    const found = findSlips(epochs, model());
    expect(found.map((s) => [s.sow, s.satellite, s.band])).toEqual([0, 1, 2, 3].map((i) => [1100, `G0${i + 1}`, 1]));
  });
  it('begin a new count after a pause of one band, though the other runs on', () => {
    const epochs = session(7, 250, USUAL);
    for (const e of epochs.slice(100, 110)) e.rows[6].phaseM[1] = Number.NaN;
    slip(epochs, 105, 6, 1, 1409);
    expect(findSlips(epochs, model())).toEqual([]);
    const arcs = (band: number) =>
      new Set(epochs.filter((_, k) => k < 100 || k >= 110).map((e) => e.rows[6].arc[band]));
    expect(arcs(1).size).toBe(2);
    expect(arcs(0).size).toBe(1);
  });
  it('are no false alarm over an hour of noisy phases', () => {
    expect(findSlips(session(9, 3600, { ...USUAL, phase: 0.006 }), model())).toEqual([]);
  });
});

describe('noise that the session tells', () => {
  it('is that of the phases from epoch to epoch, twice or half of what is usual', () => {
    for (const phase of [0.0008, 0.003, 0.007]) {
      const noise = model();
      findSlips(session(11, 600, { ...USUAL, phase }), noise);
      for (const b of noise.bands)
        for (const sinEl of [0.3, 0.9]) {
          const sd = Math.sqrt(b.phase.even + b.phase.low / sinEl ** 2);
          expect(sd / (phase / sinEl)).toBeGreaterThan(0.85);
          expect(sd / (phase / sinEl)).toBeLessThan(1.15);
        }
    }
  });
  it('is that of the codes, noise apart from multipath, through jumps of their clock', () => {
    const truth = { code: 0.8, codePath: 0.6, phase: 0.002, tauS: 40 };
    const epochs = session(13, 2400, truth);
    for (const e of epochs)
      if (e.epoch > 700) for (const r of e.rows) r.codeM = [r.codeM[0] + 299792.458, r.codeM[1] + 299792.458];
    const noise = model();
    findSlips(epochs, noise);
    learnCodeNoise(epochs, noise);
    for (const b of noise.bands) {
      const at = (v: { even: number; low: number }) => 0.5 * Math.sqrt(v.even + v.low / 0.25);
      expect(at(b.code) / truth.code).toBeGreaterThan(0.85);
      expect(at(b.code) / truth.code).toBeLessThan(1.2);
      expect(at(b.codePath) / truth.codePath).toBeGreaterThan(0.7);
      expect(at(b.codePath) / truth.codePath).toBeLessThan(1.3);
    }
    expect(noise.codeTauS).toBeGreaterThan(20);
    expect(noise.codeTauS).toBeLessThan(80);
  });
  it('has an even part and one by elevation, whichever there is', () => {
    const random = new Random(17);
    const sinEl = Array.from({ length: 20000 }, () => random.between(0.18, 1));
    const fit = (even: number, low: number) =>
      elevationVariance(
        sinEl,
        sinEl.map((s) => (even + low / s ** 2) * random.normal() ** 2),
      );
    for (const [even, low] of [
      [4, 0],
      [0, 4],
      [2, 1],
    ]) {
      const found = fit(even, low);
      for (const s of [0.3, 0.9]) expect((found.even + found.low / s ** 2) / (even + low / s ** 2)).toBeCloseTo(1, 0.9);
    }
  });
});
