import { describe, expect, it } from 'vitest';
import {
  GNSS_NOISE_DEFAULTS,
  type KinematicEpoch,
  type NoiseModel,
  type Slip,
  type Solution,
} from '@longheron/core/gnss';
import { floatStretches, noiseFigures, sessionNotices } from './sessionNotices';

const epoch = (sow: number, solution: Solution, more: Partial<KinematicEpoch> = {}): KinematicEpoch => ({
  sow,
  solution,
  xyzM: new Float64Array(3),
  covariance: new Float64Array(9),
  satellites: 12,
  ratio: 5,
  successRate: 1,
  separationM: 0.001,
  ...more,
});
/** A session of 1 Hz: kinds by second, 'f' fixed, '.' float. */
const session = (from: number, kinds: string, more: Partial<KinematicEpoch> = {}) =>
  [...kinds].map((k, i) => epoch(from + i, k === 'f' ? 'fixed' : 'float', k === 'f' ? {} : more));
const slip = (sow: number, satellite: string, sign: Slip['sign']): Slip => ({
  sow,
  satellite,
  band: 0,
  at: 'rover',
  sign,
});

describe('stretches that are not fixed', () => {
  it('begin and end where they do, and short ones are not spoken of', () => {
    const epochs = session(1000, `${'f'.repeat(200)}${'.'.repeat(5)}${'f'.repeat(10)}${'.'.repeat(21)}ff`);
    expect(floatStretches(epochs, [])).toEqual([
      { startSow: 1215, endSow: 1235, why: 'integers could not be told for certain' },
    ]);
  });
  it('have their reason: the start, an outage, few satellites, lost counts, a contradiction', () => {
    const why = (epochs: KinematicEpoch[], slips: Slip[] = []) => floatStretches(epochs, slips).map((s) => s.why);
    const dots = '.'.repeat(15);
    expect(why(session(0, dots))).toEqual(['at the start']);
    expect(why([...session(0, 'ff'), ...session(60, dots)])).toEqual(['after an outage']);
    expect(why(session(0, `ff${dots}`, { satellites: 5 }))).toEqual(['few satellites']);
    expect(
      why(
        session(0, `ff${dots}`),
        [1, 2, 3].map((t) => slip(t, 'G01', 'told')),
      ),
    ).toEqual(['3 lost counts']);
    expect(why(session(0, `ff${dots}`, { contrary: true }))).toEqual(['forward and reverse contradict each other']);
  });
});

describe('notices of a session', () => {
  it('say with time and satellite what was found that no receiver told', () => {
    const slips = [slip(20, 'G07', 'told'), slip(30, 'E11', 'other satellites')];
    const sky = {
      satellites: [],
      slips,
      sow: new Float64Array(0),
      elevationDeg: new Float32Array(0),
      azimuthDeg: new Float32Array(0),
      residualM: new Float32Array(0),
    };
    const notices = sessionNotices(session(0, 'f'.repeat(3600)), sky, 2423);
    expect(notices.map((n) => n.code)).toEqual(['position-slips']);
    // second 30 of a GPS week
    expect(notices[0].place).toBe('GPS time 00:00:30, E11');
    expect(notices[0].text).toContain('1 of 2');
  });
  it('name a satellite that slips again and again', () => {
    const slips = [10, 20, 30, 40].map((t) => slip(t, 'G07', 'told'));
    const sky = {
      satellites: [],
      slips,
      sow: new Float64Array(0),
      elevationDeg: new Float32Array(0),
      azimuthDeg: new Float32Array(0),
      residualM: new Float32Array(0),
    };
    const [n] = sessionNotices(session(0, 'f'.repeat(600)), sky, 2423);
    expect(n).toMatchObject({ code: 'position-slips-often', severity: 'warning' });
    expect(n.text).toContain('G07 lost count 4 times');
  });
  it('warn of passes that were fixed to different positions', () => {
    const epochs = session(0, 'ff....ff', { contrary: true, separationM: 0.38 });
    const [n] = sessionNotices(epochs, undefined, 2423);
    expect(n).toMatchObject({ code: 'position-contrary', severity: 'warning' });
    expect(n.text).toContain('4 epochs');
    expect(n.text).toContain('0.38 m');
  });
});

it('noise is stated for one receiver at 45° of elevation', () => {
  const band = {
    code: { even: 0, low: 2 * 0.3 ** 2 * 0.5 },
    codePath: { even: 2 * 0.4 ** 2, low: 0 },
    phase: { even: 2 * 0.002 ** 2, low: 0 },
    phasePath: { even: 0, low: 2 * 0.004 ** 2 * 0.5 },
  };
  const model: NoiseModel = {
    bands: [band, band],
    groups: 1,
    codeTauS: 40,
    phaseTauS: GNSS_NOISE_DEFAULTS.multipathTauS,
    ionosphere: 1e-6,
  };
  const f = noiseFigures(model, 5000)!;
  expect(f.code_m).toBeCloseTo(0.3, 9);
  expect(f.code_multipath_m).toBeCloseTo(0.4, 9);
  expect(f.phase_m).toBeCloseTo(0.002, 9);
  expect(f.phase_multipath_m).toBeCloseTo(0.004, 9);
  expect(f.ionosphere_m).toBeCloseTo(0.005, 9);
});
