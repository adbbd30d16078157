// @vitest-environment happy-dom
import { enableAutoUnmount, flushPromises } from '@vue/test-utils';
import { createPinia } from 'pinia';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { DEMO_NAME, SECOND_DEMO_NAME, type ListedProject } from '@longheron/contract/api';
import { STAGES } from '@longheron/contract/stages';
import { FakeServer } from '../test/fakeServer';
import { button, mounted, wordsOf } from '../test/mounted';
import { PROJECT } from '../test/project';
import ProjectList from './ProjectList.vue';
import SmallPlan from './SmallPlan.vue';

enableAutoUnmount(afterEach);
afterEach(() => vi.unstubAllGlobals());

const listed = (id: number, change: Partial<ListedProject> = {}): ListedProject => ({
  ...PROJECT,
  id,
  name: `Reach ${id}`,
  holds: {
    files: 2,
    results: 1,
    bytes: 1_500_000,
    // noon of 16 June 2026
    startGps: 1_465_646_418,
    stages: STAGES.map((stage) => ({ stage, state: stage === 'gather' ? 'done' : 'nothing yet' })),
    plan: [],
  },
  ...change,
});
async function list(projects: ListedProject[]) {
  const server = new FakeServer().on('GET /projects', projects);
  const wrapper = await mounted(ProjectList, createPinia(), {}, '/');
  await flushPromises();
  return { server, wrapper };
}

describe('the list of projects', () => {
  it('says of each what it holds, its day, and how far each stage is', async () => {
    const { wrapper } = await list([listed(3)]);
    const words = wordsOf(wrapper);
    expect(words).toContain('Reach 3');
    expect(words).toContain('2026-06-16');
    expect(words).toContain('2 files, 1 result, 1.5 MB');
    expect(words).toContain('No coordinate system yet');
    expect(words).toMatch(/Gather ?done ?Position ?nothing yet ?Place ?nothing yet/);
    expect(wrapper.findAll('.stages > .ok')).toHaveLength(1);
  });

  it('keeps those that are put away out of the way until they are asked for', async () => {
    const { wrapper, server } = await list([listed(3), listed(4, { putAway: true }), listed(5, { putAway: true })]);
    expect(wordsOf(wrapper)).not.toContain('Reach 4');
    await button(wrapper, 'Show 2 projects put away').trigger('click');
    const names = wrapper.findAll('.item strong').map((n) => n.text());
    expect(names).toEqual(['Reach 3', 'Reach 4', 'Reach 5']);
    expect(wrapper.findAll('.item.away')).toHaveLength(2);
    await button(wrapper, 'Hide 2 projects put away').trigger('click');
    expect(wrapper.findAll('.item')).toHaveLength(1);
    expect(server.sent('PATCH', '/projects/4')).toEqual([]);
  });

  it('offers to make the demo where there is none, and says why it cannot', async () => {
    const { wrapper, server } = await list([listed(3)]);
    server.refused.set('POST /demo', { title: 'The disk is full.', remedy: 'Make room.' });
    await button(wrapper, 'Make the demo projects').trigger('click');
    await flushPromises();
    expect(wordsOf(wrapper)).toContain('The disk is full.');
    server.refused.clear();
    server.on('GET /projects', [listed(1, { name: DEMO_NAME }), listed(2, { name: SECOND_DEMO_NAME })]);
    await button(wrapper, 'Make the demo projects').trigger('click');
    await flushPromises();
    expect(wordsOf(wrapper)).not.toContain('Make the demo projects');
    expect(wordsOf(wrapper)).toContain(DEMO_NAME);
  });

  it('says what is wrong with a name before it is sent, and that the server is away', async () => {
    const { wrapper, server } = await list([]);
    expect(wordsOf(wrapper)).toContain('No project yet. Give the first one a name.');
    await wrapper.get('form').trigger('submit');
    expect(wordsOf(wrapper)).toContain('A project needs a name.');
    expect(server.sent('POST', '/projects')).toEqual([]);
    server.offline = true;
    await wrapper.get('input').setValue('New reach');
    await wrapper.get('form').trigger('submit');
    await flushPromises();
    expect(wrapper.find('.bad').exists()).toBe(true);
  });
});

describe('a small plan', () => {
  it('fits its lines into the square, north up, and draws nothing of nothing', async () => {
    const pinia = createPinia();
    const corners: Array<[number, number]> = [
      [1000, 5000],
      [1100, 5050],
    ];
    const plan = await mounted(SmallPlan, pinia, { lines: [corners] });
    // 56 pixels for 100 m: half of that from the middle to the west, a quarter to the south
    expect(plan.get('polyline').attributes('points')).toBe('4.0,46.0 60.0,18.0');
    const none = await mounted(SmallPlan, pinia, { lines: [] });
    expect(none.findAll('polyline')).toHaveLength(0);
  });
});
