// @vitest-environment happy-dom
import { enableAutoUnmount } from '@vue/test-utils';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { button, mounted, wordsOf } from '../test/mounted';
import { dataset, notice, opened, run } from '../test/project';
import { CIVIDIS, css, gradient, sample, SIGNED, VIRIDIS } from './colour';
import DatasetCard from './DatasetCard.vue';
import { bytesText, durationText, splitNumber } from './format';
import { isTyping } from './keys';
import Num from './Num.vue';
import OutOfDate from './OutOfDate.vue';
import TrailList from './TrailList.vue';
import { useUnits } from './units';

enableAutoUnmount(afterEach);
afterEach(() => vi.unstubAllGlobals());

describe('numbers', () => {
  it('are grouped by thousands without a character between, so that copies are plain', async () => {
    expect(splitNumber(1234567.891, 2)).toEqual({ sign: '', groups: ['1', '234', '567'], fraction: '89' });
    expect(splitNumber(-999.5, 0).groups).toEqual(['1', '000']);
    // what rounds to nothing has no sign
    expect(splitNumber(-0.004, 2)).toEqual({ sign: '', groups: ['0'], fraction: '00' });
    const { pinia } = await opened();
    const text = async (props: object) => (await mounted(Num, pinia, props)).text();
    expect(await text({ value: -1234.5, digits: 1, unit: 'm' })).toBe('−1234.5m');
    expect(await text({ value: 3, plus: true })).toBe('+3');
    expect(await text({ value: null })).toBe('–');
    expect(await text({ value: Number.NaN, unit: 'm' })).toBe('–');
  });

  it('of bytes and seconds are in the unit that a person would choose', () => {
    expect([999, 12_345, 3_456_789, 7.89e9].map(bytesText)).toEqual(['999 B', '12 kB', '3.5 MB', '7.89 GB']);
    expect([4.4, 75, 3720].map(durationText)).toEqual(['4 s', '1 min 15 s', '1 h 2 min']);
  });

  it('of lengths are in the unit of the project', async () => {
    const { store } = await opened();
    const { length, small } = useUnits();
    expect([length.value.symbol, small.value.symbol, small.value.factor]).toEqual(['m', 'cm', 100]);
    store.project = {
      ...store.project!,
      reference: { unit: 'foot' } as NonNullable<typeof store.project>['reference'],
    };
    expect(length.value.factor).toBeCloseTo(1 / 0.3048, 12);
    expect(small.value.digits).toBe(3);
  });
});

describe('scales of colour', () => {
  it('go through their anchors and end at their ends', () => {
    for (const scale of [VIRIDIS, CIVIDIS, SIGNED]) {
      const hex = (rgb: number[]) => `#${rgb.map((v) => v.toString(16).padStart(2, '0')).join('')}`;
      expect([hex(sample(scale, 0)), hex(sample(scale, 1))]).toEqual([scale[0], scale.at(-1)]);
      expect(sample(scale, -3)).toEqual(sample(scale, 0));
      expect(hex(sample(scale, 2 / (scale.length - 1)))).toBe(scale[2]);
    }
    expect(css(VIRIDIS, 0)).toBe('rgb(68 1 84)');
    expect(gradient(['#000000', '#ffffff'])).toBe('linear-gradient(to right, #000000, #ffffff)');
  });

  it('of heights grow lighter all along, for eyes that tell no colours', () => {
    const light = (f: number) => {
      const [r, g, b] = sample(VIRIDIS, f).map((v) => (v / 255) ** 2.2);
      return 0.2126 * r + 0.7152 * g + 0.0722 * b;
    };
    const steps = Array.from({ length: 40 }, (_, k) => light(k / 39));
    expect(steps.every((v, k) => k === 0 || v > steps[k - 1])).toBe(true);
  });
});

describe('keys', () => {
  it('belong to fields that text is typed into, not to boxes', () => {
    const make = (html: string) => {
      const holder = document.createElement('div');
      holder.innerHTML = html;
      return holder.firstElementChild;
    };
    expect(isTyping(make('<input>'))).toBe(true);
    expect(isTyping(make('<textarea></textarea>'))).toBe(true);
    expect(isTyping(make('<input type="checkbox">'))).toBe(false);
    expect(isTyping(make('<button></button>'))).toBe(false);
    expect(isTyping(null)).toBe(false);
  });
});

describe('the card of a dataset', () => {
  it('says kind, name, revision, and the worst of its notices', async () => {
    const cloud = dataset(3, 'point-cloud', {}, { revisions: 2, revision: { number: 2 } });
    const { pinia, now, store } = await opened({ datasets: [cloud] });
    const card = await mounted(DatasetCard, pinia, { dataset: cloud, figure: '5 points' });
    expect(wordsOf(card)).toMatch(/revision 2\s*point-cloud 3\s*5 points$/);
    now({ datasets: [cloud], notices: [notice(1, { datasetId: 3 })] });
    await store.refresh();
    expect(wordsOf(await mounted(DatasetCard, pinia, { dataset: cloud }))).toContain('needs attention');
    now({ datasets: [cloud], notices: [notice(1, { datasetId: 3 }), notice(2, { datasetId: 3, severity: 'error' })] });
    await store.refresh();
    expect(wordsOf(await mounted(DatasetCard, pinia, { dataset: cloud }))).toContain('blocking notice');
    const old = { ...cloud, outOfDate: true, outOfDateBecause: 'Its trajectory has changed' };
    const stale = await mounted(DatasetCard, pinia, { dataset: old });
    expect(stale.get('.warn').attributes('title')).toBe('Its trajectory has changed');
  });
});

describe('what is out of date', () => {
  it('says why, and is brought up to date unless work is in progress', async () => {
    const cloud = dataset(3, 'point-cloud', {}, { outOfDate: true, outOfDateBecause: 'The mounting has changed' });
    const { pinia, server, store, now } = await opened({ datasets: [cloud] });
    const wrapper = await mounted(OutOfDate, pinia, { dataset: cloud });
    expect(wordsOf(wrapper)).toContain('Out of date: The mounting has changed.');
    await button(wrapper, 'Bring up to date').trigger('click');
    expect(server.sent('POST', '/projects/7/bring-up-to-date')).toEqual([{}]);
    now({ datasets: [cloud], runs: [run(1, { status: 'running' })] });
    await store.refresh();
    expect(button(wrapper, 'Bring up to date').attributes('disabled')).toBeDefined();
  });
});

describe('the trail', () => {
  const revision = (number: number, current: boolean) => ({
    id: 100 + number,
    number,
    contentHash: 'abcdef0123456789',
    madeBy: 'smooth',
    current,
    content: {},
    createdAt: '2026-06-16T09:00:00Z',
    settings: { radiusM: 0.3 },
    inputs: [{ role: 'cloud', datasetId: 1, revisionId: 1, contentHash: '' }],
  });

  it('has each revision: by what, when, of what, with which settings; an earlier one can be current again', async () => {
    const cloud = dataset(3, 'point-cloud', {}, { revisions: 2 });
    const { pinia, server } = await opened({ datasets: [dataset(1, 'point-cloud'), cloud] });
    server.on('GET /projects/7/datasets/3/revisions', [revision(2, true), revision(1, false)]);
    const wrapper = await mounted(TrailList, pinia, { dataset: cloud });
    const words = wordsOf(wrapper);
    expect(words).toMatch(/Revision 2 smoothed current.*abcdef0123.*from point-cloud 1/);
    expect(words).toContain('Neighbours within');
    await button(wrapper, 'Make current').trigger('click');
    await button(wrapper, 'Discard').trigger('click');
    const paths = server.asked.filter((a) => a.method !== 'GET').map((a) => `${a.method} ${a.path}`);
    expect(paths).toEqual([
      'POST /projects/7/datasets/3/revisions/1/current',
      'DELETE /projects/7/datasets/3/revisions/1',
    ]);
  });

  it('that cannot be read says so, and can be asked for again', async () => {
    const cloud = dataset(3, 'point-cloud');
    const { pinia, server } = await opened({ datasets: [cloud] });
    server.refused.set('GET /projects/7/datasets/3/revisions', { title: 'The database is away.', status: 503 });
    const wrapper = await mounted(TrailList, pinia, { dataset: cloud });
    expect(wordsOf(wrapper)).toContain('The database is away.');
  });
});
