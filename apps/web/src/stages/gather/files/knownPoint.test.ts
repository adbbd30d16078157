// @vitest-environment happy-dom
import { enableAutoUnmount, flushPromises } from '@vue/test-utils';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { type ReferenceDto } from '@longheron/contract/api';
import { field, mounted, wordsOf } from '../../../test/mounted';
import { dataset, opened } from '../../../test/project';
import KnownPoint from './KnownPoint.vue';

enableAutoUnmount(afterEach);
afterEach(() => vi.unstubAllGlobals());

const AT = 'POST /projects/7/datasets/12/known-point';
async function form(unit: ReferenceDto['unit'] = 'metre') {
  const { pinia, server } = await opened({
    project: { reference: { unit, horizontal: 25832, vertical: 0 } as ReferenceDto },
  });
  const wrapper = await mounted(KnownPoint, pinia, { dataset: dataset(12, 'geoid', { object: 'ab' }) });
  const type = async (name: string, value: string) => {
    await field(wrapper, name).setValue(value);
    await field(wrapper, name).trigger('change');
  };
  const judge = async () => {
    await wrapper.get('form').trigger('submit');
    await flushPromises();
    return wordsOf(wrapper);
  };
  const fill = async (h: string, height: string) => {
    await type('Latitude of the known point', '56 05 00 N');
    await type('Longitude of the known point', '8 28 00 E');
    await type('Height above the ellipsoid', h);
    await type('Levelled height', height);
  };
  return { wrapper, server, type, judge, fill };
}

describe('a geoid against a known point', () => {
  it('asks for what is missing before anything is sent', async () => {
    const { judge, type, server } = await form();
    expect(await judge()).toContain('Type the height above the ellipsoid.');
    await type('Height above the ellipsoid', '43.1');
    expect(await judge()).toContain('Type the levelled height.');
    expect(server.sent('POST', '/projects/7/datasets/12/known-point')).toEqual([]);
  });

  it.each([
    ['agrees', 'The grid agrees with the point.', 'ok'],
    ['turned', 'The two heights are exchanged, or the grid has the other sign.', 'bad'],
    ['same heights', 'one of them is not what it is called', 'bad'],
    ['elsewhere', 'another surface or country, or another point', 'bad'],
  ])('%s, in words and figures', async (says, words, state) => {
    const { judge, fill, server, wrapper } = await form();
    server.on(AT, { undulationM: 40.727, statedM: 40.1, offM: 0.627, says });
    await fill('43.2', '3.1');
    expect(await judge()).toContain(words);
    expect(wrapper.find(`p.state.${state}`).exists()).toBe(true);
    expect(wordsOf(wrapper)).toMatch(/Grid − point\s*\+0\.627\s*m/);
    expect(server.sent('POST', '/projects/7/datasets/12/known-point')).toEqual([
      { latitude: '56 05 00 N', longitude: '8 28 00 E', hEllM: 43.2, heightM: 3.1 },
    ]);
  });

  it('takes and tells feet in a project of feet', async () => {
    const { judge, fill, server, wrapper } = await form('foot');
    server.on(AT, { undulationM: 30.48, statedM: 30.48, offM: 0, says: 'agrees' });
    await fill('100', '0');
    await judge();
    const [sent] = server.sent('POST', '/projects/7/datasets/12/known-point') as Array<{ hEllM: number }>;
    expect(sent.hEllM).toBeCloseTo(30.48, 9);
    expect(wordsOf(wrapper)).toMatch(/Undulation by the grid\s*100\.000\s*ft/);
  });

  it('passes on why the server could not', async () => {
    const { judge, fill, server } = await form();
    server.refused.set(AT, {
      title: 'The geoid grid has no value at 10°, 10°.',
      remedy: 'Choose a grid that covers it.',
    });
    await fill('1', '1');
    expect(await judge()).toContain('has no value at 10°');
  });
});
