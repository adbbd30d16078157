// @vitest-environment happy-dom
import { enableAutoUnmount, flushPromises } from '@vue/test-utils';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { type Content as Coverage } from '@longheron/contract/kinds/coverage';
import { type PlanFigures } from '@longheron/contract/kinds/plan-check';
import { type JudgedFigures, type MarkFigures } from '@longheron/contract/kinds/residuals';
import { type ReferenceDto } from '@longheron/contract/api';
import { button, mounted, wordsOf } from '../../test/mounted';
import { dataset, opened } from '../../test/project';
import ClassesPage from './classes/ClassesPage.vue';
import CoverageSheet from './coverage/CoverageSheet.vue';
import HeightsSheet from './heights/HeightsSheet.vue';
import PlanSheet from './plan/PlanSheet.vue';

enableAutoUnmount(afterEach);
afterEach(() => vi.unstubAllGlobals());

const FEET = { reference: { unit: 'foot', horizontal: 25832, vertical: 0 } as ReferenceDto };
const mark = (name: string, residual: number, change: Partial<MarkFigures> = {}): MarkFigures => ({
  name,
  role: 'control',
  cover: 'hard',
  used: false,
  left_out: null,
  easting_m: 467000,
  northing_m: 6215000,
  height_m: 3,
  surface_m: 3 + residual,
  residual_m: residual,
  method: 'plane',
  points: 40,
  quadrants: 4,
  plane_m: 3 + residual,
  triangle_m: 3.004 + residual,
  density_per_m2: 80,
  slope_percent: 2.5,
  nearest_m: 0.05,
  expected_sd_m: 0.01,
  test_t: 0.4,
  flagged: false,
  reason: null,
  ...change,
});
const cover = (rmse: number) => ({
  count: 3,
  mean_m: 0.01,
  sd_m: 0.006,
  rmse_m: rmse,
  min_m: -0.01,
  max_m: 0.03,
  p95_m: 0.028,
});
const heights = (rmse: number, marks = [mark('C1', 0.02), mark('C2', 0.03), mark('C3', 0.04)]): JudgedFigures => ({
  ...cover(rmse),
  hard: cover(rmse),
  soft: cover(0.02),
  marks,
  median_m: 0.011,
  nmad_m: 0.004,
  bias_t: 3.1,
  bias_significant: true,
  class_2014_cm: 2,
  class_2024_cm: 2.2,
  contour_interval_m: 0.1,
  statements: [
    { standard: 'ASPRS 2014 (edition 1)', class_cm: 1.2, rmse_m: 0.0112, p95_m: 0.0219, caveat: 'few marks' },
  ],
  tolerance_m: 0.03,
  within_tolerance: rmse <= 0.03,
});

describe('the accuracy of heights', () => {
  const cloud = dataset(3, 'point-cloud', {}, { name: 'Classified cloud' });
  const check = dataset(
    9,
    'residuals',
    {},
    { revision: { inputs: [{ role: 'cloud', datasetId: 3, revisionId: 103 }] } },
  );
  async function sheet(figures: JudgedFigures, change: object = {}, project = {}) {
    const { pinia, server } = await opened({ datasets: [cloud, check], project });
    const wrapper = await mounted(HeightsSheet, pinia, { dataset: check, figures, canEdit: true, ...change });
    return { wrapper, server, words: wordsOf(wrapper) };
  }

  it('is judged by the tolerance of the project, in its unit', async () => {
    expect((await sheet(heights(0.0268))).words).toMatch(
      /Within tolerance: RMSE 2\.68\s*cm of 3\.0\s*cm at 3 check marks/,
    );
    expect((await sheet(heights(0.041))).words).toContain('Out of tolerance');
    const feet = (await sheet(heights(0.03048), {}, { ...FEET, toleranceM: 0.03048 })).words;
    expect(feet).toMatch(/RMSE 0\.1000?\s*ft of 0\.100\s*ft/);
  });

  it('says so where no check mark was found', async () => {
    expect((await sheet({ ...heights(0), count: 0 })).words).toContain('so there is no figure');
  });

  it('has a bias taken out by the mean of marks that agree, with its deviation', async () => {
    const { wrapper, server, words } = await sheet(heights(0.02));
    // 2, 3 and 4 cm: mean 3 cm, its SD 1 cm over the root of three
    expect(words).toMatch(/Mean \+3\.00\s*cm ± 0\.58\s*cm/);
    await button(wrapper, 'Make the corrected cloud').trigger('click');
    await flushPromises();
    expect(server.sent('POST', '/projects/7/runs')).toMatchObject([
      { operation: 'correct', inputs: { cloud: 3, check: 9 }, settings: { by: 'control' } },
    ]);
    const flagged = heights(0.02, [mark('C1', 0.02), mark('C2', 0.03), mark('C3', 0.4, { flagged: true })]);
    const few = await sheet(flagged);
    expect(button(few.wrapper, 'Make the corrected cloud').attributes('disabled')).toBeDefined();
  });

  it('leaves a mark out only with a reason, and takes it in again', async () => {
    const chosen = mark('K5', -0.015, { role: 'check' });
    const { wrapper, words } = await sheet(heights(0.02), { selected: chosen });
    expect(words).toMatch(/Mark K5\s*How found\s*plane, counts/);
    expect(words).toMatch(/Their difference\s*−0\.40\s*cm/);
    await wrapper.get('form').trigger('submit');
    expect(wordsOf(wrapper)).toContain('Say why; the reason is printed in the report.');
    expect(wrapper.emitted('leaveOut')).toBeUndefined();
    await wrapper.get('textarea').setValue('Painted over before the drive');
    await wrapper.get('form').trigger('submit');
    expect(wrapper.emitted('leaveOut')![0].slice(1)).toEqual(['Painted over before the drive']);
    const out = await sheet(heights(0.02), { selected: { ...chosen, left_out: 'Painted over' } });
    await button(out.wrapper, 'Take it in again').trigger('click');
    expect(out.wrapper.emitted('leaveOut')![0].slice(1)).toEqual(['']);
  });
});

describe('the accuracy of plan', () => {
  const figures: PlanFigures = {
    marks: [],
    statistics: {
      meanE: 0.004,
      meanN: -0.002,
      sdE: 0.006,
      sdN: 0.007,
      rmseE: 0.007,
      rmseN: 0.008,
      rmseR: 0.0106,
      maxM: 0.019,
      biasTE: 1.2,
      biasTN: -0.6,
      count: 6,
      biasSignificant: false,
      p95Note: 'of Rayleigh, equal axes',
      p95M: 0.0184,
    },
    statements: [{ standard: 'ASPRS 2014, horizontal', classCm: 0.8, rmseM: 0.008, p95M: null, caveat: null }],
    trend: {
      scalePpm: 120,
      sdScalePpm: 40,
      turnArcsec: 12,
      sdTurnArcsec: 9,
      scaleSignificant: true,
      turnSignificant: false,
    } as PlanFigures['trend'],
    cloudSdM: 0.005,
    toleranceM: 0.03,
    within: true,
    distances: [
      {
        from: 'A',
        to: 'B',
        kind: 'distance',
        measuredM: 41.206,
        foundM: 41.21,
        differenceM: 0.004,
        agrees: true,
        note: 'tape',
      },
      {
        from: 'A',
        to: 'C',
        kind: 'height',
        measuredM: -1.2345,
        foundM: null,
        differenceM: null,
        agrees: null,
        note: '',
      },
    ] as unknown as PlanFigures['distances'],
  };
  const check = dataset(11, 'plan-check', {});

  it('says both axes, the greatest length, a scale that shows, and what was taped', async () => {
    const { pinia } = await opened({ datasets: [check] });
    const words = wordsOf(await mounted(PlanSheet, pinia, { dataset: check, figures, picked: false }));
    expect(words).toMatch(/Within tolerance: RMSE 1\.06\s*cm of 3\.0\s*cm at 6 check marks/);
    expect(words).toMatch(/Mean\s*\+0\.40, −0\.20\s*cm/);
    expect(words).toMatch(/Scale\s*\+120 ± 40\s*ppm, significant/);
    expect(words).toMatch(/Turn, counter-clockwise\s*\+12 ± 9\s*″, not significant/);
    expect(words).toMatch(/A B\s*41\.206\s*\+0\.40/);
    expect(words).toMatch(/A C, height\s*−1\.23[45]/);
  });

  it('has no figure without a check mark', async () => {
    const { pinia } = await opened({ datasets: [check] });
    const none = { ...figures, statistics: { ...figures.statistics, count: 0 } };
    const words = wordsOf(await mounted(PlanSheet, pinia, { dataset: check, figures: none, picked: false }));
    expect(words).toContain('No check mark has a place in the cloud');
    expect(words).not.toContain('tolerance');
  });
});

describe('how an area is covered', () => {
  const content = {
    figures: {
      areaM2: 10000,
      coveredM2: 9950,
      median: 80,
      p5: 22,
      belowShare: 0.12,
      voidM2: 50,
      voidCount: 3,
      points: 8e5,
      listed: 2,
      steep: { areaM2: 400, median: 30, belowShare: 0.5 },
      precision: { median: 0.011, p95: 0.034, statedM2: 9000 },
      spacing: { points: 1000, medianM: 0.055, p95M: 0.12 },
    },
    ordered: true,
    toleranceM: 0.03,
  } as unknown as Coverage;
  const measured = dataset(12, 'coverage', {});

  it('warns of what is below the wanted density and beyond the tolerance', async () => {
    const { pinia } = await opened({ datasets: [measured] });
    const wrapper = await mounted(CoverageSheet, pinia, { dataset: measured, content });
    const words = wordsOf(wrapper);
    expect(words).toMatch(/99\.5 % of the ordered area has points; 12 % is below the wanted density/);
    expect(words).toMatch(/Voids together\s*50\s*m² in 3/);
    expect(wrapper.findAll('.state.warn').map((w) => w.text())).toEqual([
      '12 % is below the wanted density',
      expect.stringMatching(/^3\.40/),
    ]);
  });

  it('has areas and densities in square feet where the project has feet', async () => {
    const { pinia } = await opened({ datasets: [measured], project: FEET });
    const words = wordsOf(await mounted(CoverageSheet, pinia, { dataset: measured, content }));
    // 10 000 m² are 107 639 ft², 80 a square metre 7.4 a square foot
    expect(words).toMatch(/Area\s*107\s?639\s*ft²/);
    expect(words).toMatch(/Density, median\s*7\.4\s*\/ft²/);
  });
});

describe('classes against a reference', () => {
  const content = (overall: number, leastPercent?: number) => ({
    figures: {
      classes: [2, 5],
      counts: [
        [900, 20],
        [10, 70],
      ],
      recall: [900 / 920, 70 / 80],
      precision: [900 / 910, 70 / 90],
      overall,
      typeI: 20 / 920,
      typeII: 0.125,
      total: 0.03,
      matched: 1000,
      without: 4,
      ambiguous: 1,
    },
    names: { 2: 'ground', 5: 'high vegetation' },
    leastPercent,
  });
  async function page(overall: number, least?: number) {
    const cloud = dataset(3, 'point-cloud', { index: 'x' }, { name: 'Classified cloud', stage: 'clean' });
    const result = dataset(14, 'class-check', content(overall, least), {
      stage: 'prove',
      revision: { madeBy: 'class-check' },
    });
    const { pinia } = await opened({ datasets: [cloud, result] });
    return mounted(ClassesPage, pinia, {}, '/project/7/prove/classes');
  }

  it('stand in a table with what was found and what is right of it', async () => {
    const words = wordsOf(await page(0.97));
    expect(words).toMatch(/2 ground\s*900\s*20\s*97\.83/);
    expect(words).toMatch(/correct of called so, %\s*98\.90\s*77\.78/);
    expect(words).toMatch(/97 % of 1\s?000 points that are in both are called the same\./);
    expect(words).not.toContain('were asked for');
  });

  it('are judged by the share that was asked for', async () => {
    const good = await page(0.97, 95);
    expect(good.find('.state.ok').text()).toBe('95 % were asked for');
    const bad = await page(0.94, 95);
    expect(bad.find('.state.bad').text()).toBe('95 % were asked for');
  });
});
