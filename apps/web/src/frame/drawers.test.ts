// @vitest-environment happy-dom
import { enableAutoUnmount, flushPromises } from '@vue/test-utils';
import { nextTick } from 'vue';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { useView } from '../stores/view';
import { button, field, mounted, wordsOf } from '../test/mounted';
import { dataset, notice, opened, run, type Known } from '../test/project';
import CourseBar from './CourseBar.vue';
import NoticesDrawer from './NoticesDrawer.vue';
import WorkDrawer from './WorkDrawer.vue';

enableAutoUnmount(afterEach);
afterEach(() => vi.unstubAllGlobals());

async function drawer(component: typeof NoticesDrawer | typeof WorkDrawer, name: 'notices' | 'work', known: Known) {
  const made = await opened(known);
  useView().drawer = name;
  const wrapper = await mounted(component, made.pinia);
  await nextTick();
  return { ...made, wrapper };
}

describe('notices', () => {
  const GAP = notice(1, {
    text: 'Two gaps.',
    effect: 'Points are missing.',
    remedy: 'See where.',
    datasetId: 3,
  });

  it('stand in the order of weight, accepted ones last, each with effect, remedy and what it is of', async () => {
    const { wrapper } = await drawer(NoticesDrawer, 'notices', {
      datasets: [dataset(3, 'laser-returns')],
      notices: [
        notice(4, { text: 'Old.', severity: 'error', state: 'accepted', reason: 'Known since May.' }),
        notice(2, { text: 'Nothing bad.', severity: 'info' }),
        GAP,
        notice(3, { text: 'No heading.', severity: 'error' }),
      ],
    });
    const texts = wrapper.findAll('article').map((a) => a.text());
    expect(texts.map((t) => /No heading|Two gaps|Nothing bad|Old/.exec(t)![0])).toEqual([
      'No heading',
      'Two gaps',
      'Nothing bad',
      'Old',
    ]);
    expect(texts[0]).toContain('blocks');
    expect(texts[1]).toMatch(/degrades.*laser-returns 3.*Effect: Points are missing\..*What to do: See where\./s);
    expect(texts[3]).toContain('Accepted because: Known since May.');
    // what does no harm need not be accepted
    expect(wrapper.findAll('form')).toHaveLength(2);
  });

  it('are accepted with a reason, and not without', async () => {
    const { wrapper, server } = await drawer(NoticesDrawer, 'notices', { notices: [GAP] });
    await wrapper.get('form').trigger('submit');
    expect(server.sent('POST', '/projects/7/notices/1/accept')).toEqual([]);
    expect(wrapper.get('.bad').text().length).toBeGreaterThan(5);
    await field(wrapper, 'Reason to accept: Two gaps.').setValue('  Under the bridge. ');
    await wrapper.get('form').trigger('submit');
    await flushPromises();
    expect(server.sent('POST', '/projects/7/notices/1/accept')).toEqual([{ reason: 'Under the bridge.' }]);
  });

  it('are mended by the fix that they offer; none at all says so', async () => {
    const { wrapper, server } = await drawer(NoticesDrawer, 'notices', {
      notices: [notice(5, { fix: 'Set the system of the marks' })],
    });
    await button(wrapper, 'Set the system of the marks').trigger('click');
    expect(server.sent('POST', '/projects/7/notices/5/fix')).toEqual([{}]);
    const none = await drawer(NoticesDrawer, 'notices', {});
    expect(wordsOf(none.wrapper)).toContain('Nothing was found that needs your attention.');
  });
});

describe('work in progress', () => {
  it('shows how far a job is, what it does, how long it takes, and is cancelled', async () => {
    const { wrapper, server } = await drawer(WorkDrawer, 'work', {
      runs: [run(2, { status: 'running', progress: 0.426, doing: 'Placing', secondsLeft: 75, endedAt: null })],
    });
    expect(wordsOf(wrapper)).toMatch(/43\s*%/);
    expect(wordsOf(wrapper)).toContain('Placing, about 1 min 15 s left');
    await button(wrapper, 'Cancel').trigger('click');
    expect(server.sent('POST', '/projects/7/runs/2/cancel')).toEqual([{}]);
  });

  it('says why a job failed, with its log, and runs it again', async () => {
    const error = { message: 'The file ends early.', file: 'r.h5', place: 'byte 12', remedy: 'Copy it again.' };
    const { wrapper, server } = await drawer(WorkDrawer, 'work', {
      runs: [
        run(3, { status: 'failed', error, log: ['opened', 'read 12 bytes'] }),
        run(4, { operation: 'intake', title: 'Take in', status: 'interrupted', settings: {} }),
        run(5),
      ],
    });
    const [failed, lost, done] = wrapper.findAll('article').map((a) => a.text());
    expect(failed).toContain('r.h5, byte 12: The file ends early. Copy it again.');
    expect(failed).toContain('read 12 bytes');
    // an upload whose file is not known any more cannot be run again
    expect(lost).not.toContain('Run again');
    expect(done).toContain('took 1 min 5 s');
    await button(wrapper, 'Run again').trigger('click');
    expect(server.sent('POST', '/projects/7/runs/3/again')).toEqual([{}]);
  });

  it('that there has been none of says so', async () => {
    const { wrapper } = await drawer(WorkDrawer, 'work', {});
    expect(wordsOf(wrapper)).toContain('No job has run yet.');
  });
});

describe('the course', () => {
  it('leads to each stage, says its state, and counts notices and work', async () => {
    const { pinia } = await opened({
      datasets: [dataset(1, 'marks', { marks: [] })],
      notices: [notice(1), notice(2, { severity: 'info' })],
      runs: [run(1, { status: 'queued' })],
    });
    const wrapper = await mounted(CourseBar, pinia);
    const stages = wrapper.findAll('a.stage');
    expect(stages.map((s) => s.attributes('href'))).toEqual(
      ['gather', 'position', 'place', 'clean', 'prove', 'deliver'].map((s) => `/project/7/${s}`),
    );
    expect(stages[0].attributes('title')).toBe('Gather: done (key 1)');
    expect(stages[0].classes()).toContain('here');
    const tools = wrapper.findAll('button.tool').map((b) => b.text().replace(/\s+/g, ' '));
    expect(tools[0]).toMatch(/1\s*notices/);
    expect(tools[1]).toMatch(/1\s*running/);
    await wrapper.findAll('button.tool')[1].trigger('click');
    expect(useView().drawer).toBe('work');
  });
});
