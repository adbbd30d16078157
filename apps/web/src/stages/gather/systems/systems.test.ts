// @vitest-environment happy-dom
import { enableAutoUnmount, flushPromises } from '@vue/test-utils';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { type SiteContent } from '@longheron/contract/kinds';
import { useView } from '../../../stores/view';
import { button, mounted, wordsOf } from '../../../test/mounted';
import { dataset, opened } from '../../../test/project';
import SystemsPage from './SystemsPage.vue';

enableAutoUnmount(afterEach);
afterEach(() => vi.unstubAllGlobals());

const mark = (name: string, eM: number, says = '') => ({
  name,
  eM,
  nM: 0.001,
  planM: Math.abs(eM),
  hM: -0.002,
  missPlanM: says === 'left out' ? null : 1.5 * Math.abs(eM),
  missHeightM: -0.003,
  says,
});
const SITE: SiteContent = {
  name: 'Quay',
  kind: 'calibration',
  facts: [
    ['Marks used', '2'],
    ['Scale against the projection', '390.75 ± 65.11 ppm'],
  ],
  marks: [mark('C1', 0.021), mark('C4', -0.105, 'stands out in plan'), mark('C5', 0.2, 'left out')],
};
const SHA = 'ab'.repeat(32);
const system = (
  site?: SiteContent,
  details = [
    ['System', 'Quay'],
    ['Plan', 'UTM'],
    ['Heights', 'Quay heights'],
  ],
) =>
  dataset(
    21,
    'system',
    { object: SHA, facts: { details }, site },
    { name: 'Quay.wkt', revision: { madeBy: site ? 'local-system' : 'intake' } },
  );

describe('systems of a project', () => {
  it('show how their marks agree, the one that does not, and are worked in by a button', async () => {
    const { pinia, server } = await opened({ datasets: [system(SITE)] });
    server.on('GET /projects/7/datasets/21/revisions', []);
    const wrapper = await mounted(SystemsPage, pinia);
    await flushPromises();
    const words = wordsOf(wrapper);
    expect(words).toContain('Defines plan and heights; well-known text, Quay.wkt.');
    expect(words).toContain('390.75 ± 65.11 ppm');
    expect(words).toMatch(/C1\s*\+2\.10/);
    expect(words).toMatch(/C4\s*−10\.50.*stands out in plan/s);
    expect(words).toMatch(/C5.*left out/s);
    await button(wrapper, 'Work in this system').trigger('click');
    expect([useView().drawer, useView().proposedSystem]).toEqual(['reference', 21]);
  });

  it('that were imported show what their text says; heights alone are used as heights', async () => {
    const details = [
      ['System', 'Reach datum'],
      ['Depths', 'Reach datum'],
      ['Counted', 'positive down'],
    ];
    const { pinia, server } = await opened({ datasets: [system(undefined, details)] });
    server.on('GET /projects/7/datasets/21/revisions', []);
    const wrapper = await mounted(SystemsPage, pinia);
    await flushPromises();
    expect(wordsOf(wrapper)).toContain('Defines heights alone');
    expect(wordsOf(wrapper)).toMatch(/Counted\s*positive down/);
    expect(button(wrapper, 'Use these heights').exists()).toBe(true);
  });

  it('say what they are for where there is none', async () => {
    const { pinia } = await opened();
    const wrapper = await mounted(SystemsPage, pinia);
    expect(wordsOf(wrapper)).toContain('Systems of the EPSG list need nothing here.');
    expect(button(wrapper, 'Fit a local system to marks').attributes('disabled')).toBeDefined();
  });
});
