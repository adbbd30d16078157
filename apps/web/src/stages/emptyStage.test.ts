// @vitest-environment happy-dom
import { enableAutoUnmount } from '@vue/test-utils';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { type ReferenceDto } from '@longheron/contract/api';
import { STAGES } from '@longheron/contract/stages';
import { mounted, wordsOf } from '../test/mounted';
import { dataset, opened, run, type Known } from '../test/project';
import EmptyStage from './EmptyStage.vue';
import { NEEDS } from './needs';

enableAutoUnmount(afterEach);
afterEach(() => vi.unstubAllGlobals());

async function stage(name: string, known: Known = {}) {
  const { pinia } = await opened(known);
  return mounted(EmptyStage, pinia, {}, `/project/7/${name}`);
}
const there = (wrapper: Awaited<ReturnType<typeof stage>>) => wrapper.findAll('li').map((l) => l.classes('there'));

describe('a stage that holds nothing yet', () => {
  it('an empty project says in three lines what to bring, and what comes out', async () => {
    const wrapper = await stage('gather');
    expect(wrapper.findAll('li')).toHaveLength(3);
    expect(wordsOf(wrapper)).toMatch(/^Bring the files of one survey/);
    expect(wordsOf(wrapper)).toContain(
      'Out come a classified cloud, residuals at the marks, a terrain model and a report.',
    );
    // it is there already: no link leads to where one is
    expect(wrapper.findAll('a')).toHaveLength(0);
  });

  it('names what is missing, ticks what is there, and leads to the stage that makes it', async () => {
    const reference = { horizontal: 25832, vertical: 0 } as ReferenceDto;
    const datasets = [dataset(1, 'trajectory'), dataset(2, 'mounting')];
    const wrapper = await stage('place', { datasets, project: { reference } });
    expect(there(wrapper)).toEqual([true, false, true, true]);
    const links = wrapper.findAll('a').map((a) => [a.text(), a.attributes('href')]);
    expect(links).toEqual([['to Gather', '/project/7/gather']]);
  });

  it('is gone when work is under way or a result is there', async () => {
    const datasets = [dataset(1, 'trajectory')];
    expect((await stage('position', { datasets })).find('section').exists()).toBe(false);
    const running = await stage('place', { datasets, runs: [run(1, { status: 'running' })] });
    expect(running.find('section').exists()).toBe(false);
    expect((await stage('place', { datasets })).find('section').exists()).toBe(true);
  });

  it('asks for ground before a terrain model: a cloud without does not do', async () => {
    const cloud = (counts: object) => [dataset(1, 'point-cloud', { countsByClass: counts }, { stage: 'place' })];
    expect(there(await stage('deliver', { datasets: cloud({ 0: 100 }) }))[0]).toBe(false);
    expect(there(await stage('deliver', { datasets: cloud({ 0: 100, 2: 40 }) }))[0]).toBe(true);
  });

  it('every stage says what it makes, and each need is met by something', () => {
    for (const name of STAGES) {
      expect(NEEDS[name].makes).not.toBe('');
      for (const need of NEEDS[name].needs) expect(need.met([], null)).toBe(false);
    }
  });
});
