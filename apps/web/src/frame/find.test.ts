// @vitest-environment happy-dom
import { enableAutoUnmount, flushPromises } from '@vue/test-utils';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { useView } from '../stores/view';
import { field, mounted, wordsOf } from '../test/mounted';
import { dataset, notice, opened } from '../test/project';
import SystemChoice from '../ui/SystemChoice.vue';
import FindPanel from './FindPanel.vue';

enableAutoUnmount(afterEach);
afterEach(() => vi.unstubAllGlobals());

describe('finding in the project', () => {
  const MARKS = dataset(1, 'marks', { marks: [{ name: 'K12', role: 'check' }] }, { name: 'network.csv' });
  async function finder() {
    const cloud = dataset(
      3,
      'point-cloud',
      {},
      { name: 'Classified cloud', stage: 'clean', revision: { madeBy: 'classify' } },
    );
    const { pinia } = await opened({
      datasets: [MARKS, cloud],
      notices: [notice(5, { text: 'Two gaps in the drive.' })],
    });
    const wrapper = await mounted(FindPanel, pinia, { modelValue: true });
    const type = async (text: string) => {
      await field(wrapper, 'Find').setValue(text);
      return wrapper.findAll('li').map((l) => l.text().replace(/\s+/g, ' '));
    };
    return { wrapper, type, press: (key: string) => field(wrapper, 'Find').trigger('keydown', { key }) };
  }
  const where = (wrapper: Awaited<ReturnType<typeof finder>>['wrapper']) =>
    String((wrapper.vm.$router as { currentRoute: { value: { fullPath: string } } }).currentRoute.value.fullPath);

  it('goes by words of the name and of what it is, in any order', async () => {
    const { type } = await finder();
    expect(await type('k12')).toEqual(['check mark K12 in network.csv']);
    expect(await type('cloud class')).toContain('point cloud Classified cloud');
    expect(await type('gaps notice')).toEqual(['notice Two gaps in the drive.']);
    expect((await type('prove'))[0]).toBe('stage Prove');
    expect(await type('no such thing')).toEqual([]);
  });

  it('is led by the keys: down, up, enter, and escape', async () => {
    const { wrapper, type, press } = await finder();
    await type('classified');
    await press('Enter');
    await flushPromises();
    expect(where(wrapper)).toMatch(/^\/project\/7\/clean\/ground\/3/);
    expect(wrapper.emitted('update:modelValue')).toEqual([[false]]);
    const again = await finder();
    await again.type('two gaps');
    await again.press('ArrowDown');
    await again.press('ArrowUp');
    await again.press('Enter');
    expect(useView().drawer).toBe('notices');
    const left = await finder();
    await left.press('Escape');
    expect(left.wrapper.emitted('update:modelValue')).toEqual([[false]]);
  });

  it('of a mark chooses it where heights are proved', async () => {
    const { wrapper, type, press } = await finder();
    await type('k12');
    await press('Enter');
    await flushPromises();
    expect(useView().selectedMark).toBe('K12');
    expect(where(wrapper)).toContain('/prove/heights');
  });
});

describe('the choice of a coordinate system', () => {
  it('shows the one that is set by name and code, with its heights', async () => {
    const { pinia } = await opened();
    const wrapper = await mounted(SystemChoice, pinia, {
      modelValue: { horizontal: 25832, vertical: 5773 },
      name: 'ETRS89 / UTM zone 32N',
    });
    expect(wordsOf(wrapper)).toContain('ETRS89 / UTM zone 32N (25832)');
    expect(wordsOf(wrapper)).toContain('EGM96 geoid');
    const none = await mounted(SystemChoice, pinia, { modelValue: { horizontal: 0, vertical: 0 } });
    expect(wordsOf(none)).toContain('Code, name or country');
    expect(wordsOf(none)).toContain('the ellipsoid');
  });

  it('offers the grids of the project for heights and datum, and names them by what they hold', async () => {
    const sha = 'b692fc0505710000000000000000000000000000000000000000000000000000';
    const { pinia } = await opened({
      datasets: [
        dataset(12, 'geoid', { object: sha }, { name: 'site geoid.gtx' }),
        dataset(13, 'datum-grid', { object: sha }, { name: 'old.gsb' }),
      ],
    });
    let system: object = { horizontal: 31467, vertical: 5773 };
    const wrapper = await mounted(SystemChoice, pinia, {
      modelValue: system,
      'onUpdate:modelValue': async (v: object) => {
        system = v;
        await wrapper.setProps({ modelValue: v });
      },
    });
    expect(wordsOf(wrapper)).toContain("by the list's parameters, approximate");
    const choose = async (name: string, words: string) => {
      await wrapper.get(`input[aria-label="${name}"]`).trigger('click');
      await flushPromises();
      const option = [...document.querySelectorAll('.el-select-dropdown__item')].find((o) => o.textContent === words);
      (option as HTMLElement).click();
      await flushPromises();
    };
    await choose('Heights refer to', 'the geoid site_geoid.gtx');
    expect(system).toEqual({
      horizontal: 31467,
      vertical: 0,
      geoid: { dataset: 12, name: 'site_geoid.gtx', sha12: 'b692fc050571' },
    });
    await choose('Datum shift', 'by the grid old.gsb');
    expect(system).toMatchObject({ geoid: { dataset: 12 }, shift: { dataset: 13, name: 'old.gsb' } });
    await choose('Heights refer to', 'the ellipsoid');
    expect(system).toMatchObject({ vertical: 0, shift: { dataset: 13 } });
    expect(system).not.toHaveProperty('geoid');
  });
});
