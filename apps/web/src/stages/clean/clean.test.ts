// @vitest-environment happy-dom
import { enableAutoUnmount, flushPromises } from '@vue/test-utils';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { type ReferenceDto } from '@longheron/contract/api';
import { useCloudLook } from '../../stores/cloudLook';
import { button, mounted, wordsOf } from '../../test/mounted';
import { dataset, opened } from '../../test/project';
import PlaceByMarks from './clouds/PlaceByMarks.vue';
import SmoothCloud from './clouds/SmoothCloud.vue';
import WholeClouds from './clouds/WholeClouds.vue';
import GroundPanel from './ground/GroundPanel.vue';

enableAutoUnmount(afterEach);
afterEach(() => vi.unstubAllGlobals());

const PROJECT = { reference: { unit: 'metre', horizontal: 25832, vertical: 5773 } as ReferenceDto };
const cloud = (id: number, name: string, change: object = {}, stage: 'gather' | 'place' | 'clean' = 'place') =>
  dataset(
    id,
    'point-cloud',
    { las: 'ab', index: 'cd', crs: 'EPSG:25832+5773', countsByClass: { 1: 60, 2: 40 }, ...change },
    { name, stage },
  );

describe('clouds as a whole', () => {
  async function panel(...clouds: ReturnType<typeof cloud>[]) {
    const { pinia, server } = await opened({ project: PROJECT, datasets: clouds });
    const wrapper = await mounted(WholeClouds, pinia, { dataset: clouds[0] });
    // whether a part is open is kept from one test to the next
    const fold = button(wrapper, "Into the project's system");
    if (fold.attributes('aria-expanded') !== 'true') await fold.trigger('click');
    await flushPromises();
    return { wrapper, server };
  }

  it('in the system of the project have nothing to be carried', async () => {
    const { wrapper } = await panel(cloud(1, 'Cloud'), cloud(2, 'Other'));
    expect(wordsOf(wrapper)).toContain('All clouds are in the system of the project.');
    expect(button(wrapper, 'Merge them').attributes('disabled')).toBeDefined();
  });

  it('of another system are brought in as their file says', async () => {
    const { wrapper, server } = await panel(
      cloud(1, 'Cloud'),
      cloud(3, 'old.las', { crs: 'EPSG:25833+5773' }, 'gather'),
    );
    expect(wordsOf(wrapper)).toContain('It is in EPSG:25833+5773, as its file says.');
    await button(wrapper, 'Bring it in').trigger('submit');
    await flushPromises();
    expect(server.sent('POST', '/projects/7/runs')).toMatchObject([
      { operation: 'reproject', inputs: { cloud: 3 }, settings: {} },
    ]);
  });

  it('that name no system are asked about before anything is done', async () => {
    const { wrapper } = await panel(cloud(4, 'plain.xyz', { crs: '' }, 'gather'));
    expect(wordsOf(wrapper)).toContain('Its file names no system: say which it is in.');
    expect(button(wrapper, 'Bring it in').attributes('disabled')).toBeDefined();
  });
});

describe('smoothing', () => {
  it('takes the usual settings of its declaration', async () => {
    const chosen = cloud(1, 'Cloud');
    const { pinia, server } = await opened({ project: PROJECT, datasets: [chosen] });
    const none = await mounted(SmoothCloud, pinia, {});
    expect(wordsOf(none)).toContain('Choose a cloud on the left.');
    const wrapper = await mounted(SmoothCloud, pinia, { dataset: chosen });
    await button(wrapper, 'Smooth Cloud').trigger('submit');
    await flushPromises();
    const [sent] = server.sent('POST', '/projects/7/runs') as Array<{ operation: string; inputs: object }>;
    expect([sent.operation, sent.inputs]).toEqual(['smooth', { cloud: 1 }]);
  });
});

describe('placing a cloud by marks', () => {
  const MARKS = dataset(8, 'marks', {
    marks: [
      { name: 'A', role: 'control', eastingM: 467000, northingM: 6215000, heightM: 3 },
      { name: 'B', role: 'control', eastingM: 467020, northingM: 6215000, heightM: 3 },
      { name: 'C', role: 'control', eastingM: 467000, northingM: 6215010, heightM: 5 },
    ],
  });

  it('says what is missing, and takes what is picked in the view', async () => {
    const chosen = cloud(1, 'Handheld', { crs: '' });
    const without = await opened({ project: PROJECT, datasets: [chosen] });
    expect(wordsOf(await mounted(PlaceByMarks, without.pinia, { dataset: chosen }))).toContain(
      'Import a file of marks',
    );
    const { pinia } = await opened({ project: PROJECT, datasets: [chosen, MARKS] });
    const wrapper = await mounted(PlaceByMarks, pinia, { dataset: chosen });
    expect(wordsOf(wrapper)).toContain('Points of Handheld');
    const look = useCloudLook();
    look.picked = { eastingM: 1, northingM: 2, heightM: 0.5 } as NonNullable<typeof look.picked>;
    await flushPromises();
    const take = wrapper.findAll('button').find((b) => /take/i.test(b.text()))!;
    await take.trigger('click');
    await flushPromises();
    expect(wordsOf(wrapper)).toMatch(/1\.0\d*,? ?2\.0\d*,? ?0\.5/);
  });
});

describe('noise and ground', () => {
  it('are found in the latest placed cloud, with settings that are refused where they clash', async () => {
    const placed = cloud(1, 'Cloud');
    const { pinia, server } = await opened({ project: PROJECT, datasets: [placed] });
    const wrapper = await mounted(GroundPanel, pinia, { dataset: placed });
    await flushPromises();
    await button(wrapper, 'Find noise and ground').trigger('submit');
    await flushPromises();
    expect(server.sent('POST', '/projects/7/runs')).toMatchObject([{ operation: 'classify', inputs: { cloud: 1 } }]);
  });

  it('of a result stand with their figures and can be found again in its place', async () => {
    const placed = cloud(1, 'Cloud');
    const found = dataset(
      5,
      'point-cloud',
      { index: 'x', figures: { ground: 40, strays: 2, points: 100 }, countsByClass: { 2: 40 } },
      {
        name: 'Classified cloud',
        stage: 'clean',
        revision: { madeBy: 'classify', inputs: [{ role: 'cloud', datasetId: 1, revisionId: 101 }] },
      },
    );
    const { pinia, server } = await opened({ project: PROJECT, datasets: [placed, found] });
    server.on('GET /projects/7/datasets/5/revisions', []);
    const wrapper = await mounted(GroundPanel, pinia, { dataset: found });
    await flushPromises();
    expect(wordsOf(wrapper)).toContain('Find them again');
    expect(wordsOf(wrapper)).toMatch(/Ground.*40/);
  });
});
