// @vitest-environment happy-dom
import { enableAutoUnmount, flushPromises } from '@vue/test-utils';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { choice, flag, number, text, type Given } from '@longheron/contract/declare';
import { button, field, mounted, wordsOf } from '../test/mounted';
import { dataset, opened } from '../test/project';
import AgainButtons from './AgainButtons.vue';
import DatasetChoice from './DatasetChoice.vue';
import OperationForm from './OperationForm.vue';
import SettingsForm from './SettingsForm.vue';

enableAutoUnmount(afterEach);
afterEach(() => vi.unstubAllGlobals());

const SCHEMA = {
  cellM: number({
    label: 'Cell',
    unit: 'm',
    min: 0.1,
    max: 10,
    step: 0.5,
    digits: 2,
    usual: 0.5,
    reason: 'Half a metre shows kerbs.',
  }),
  method: choice({
    label: 'By',
    usual: 'cloth',
    choices: { cloth: 'a cloth', triangles: 'triangles' },
    reason: 'Either.',
  }),
  things: flag({ label: 'Things too', usual: true, reason: 'Buildings and wires.' }),
  note: text({ label: 'Note', most: 40, usual: null, reason: 'For the trail.' }),
  wireM: number({
    label: 'Wires from',
    unit: 'm',
    min: 0,
    max: 50,
    usual: 4,
    reason: 'Above ground.',
    shown: (s: Given) => s.things === true,
  }),
};
async function form(values: Given, props: object = {}) {
  const { pinia } = await opened();
  let now = values;
  const wrapper = await mounted(SettingsForm, pinia, {
    schema: SCHEMA,
    modelValue: values,
    ...props,
    'onUpdate:modelValue': async (v: Given) => {
      now = v;
      await wrapper.setProps({ modelValue: v });
    },
  });
  return { wrapper, values: () => now };
}

describe('a form of settings', () => {
  it('has name, unit, range and reason of each, in words', async () => {
    const { wrapper } = await form({ cellM: 0.5, method: 'cloth', things: true });
    const words = wordsOf(wrapper);
    expect(words).toContain('Cell, m');
    expect(words).toContain('Half a metre shows kerbs. (0.1 to 10)');
    expect(words).toContain('Buildings and wires.');
    expect(field(wrapper, 'Cell, m').element.value).toBe('0.50');
  });

  it('changes one value and leaves the others', async () => {
    const { wrapper, values } = await form({ cellM: 0.5, method: 'cloth', things: true });
    await field(wrapper, 'Cell, m').setValue('2');
    await field(wrapper, 'Cell, m').trigger('change');
    expect(values()).toEqual({ cellM: 2, method: 'cloth', things: true });
    await field(wrapper, 'Note').setValue('first try');
    expect(values()).toEqual({ cellM: 2, method: 'cloth', things: true, note: 'first try' });
    await field(wrapper, 'Note').setValue('');
    expect(values().note).toBeUndefined();
  });

  it('keeps numbers within their range', async () => {
    const { wrapper, values } = await form({ cellM: 0.5 });
    await field(wrapper, 'Cell, m').setValue('99');
    await field(wrapper, 'Cell, m').trigger('change');
    expect(values().cellM).toBe(10);
    await field(wrapper, 'Cell, m').setValue('-3');
    await field(wrapper, 'Cell, m').trigger('change');
    expect(values().cellM).toBe(0.1);
  });

  it('shows what holds for what is chosen, and only what is asked for', async () => {
    const { wrapper } = await form({ things: true });
    expect(wordsOf(wrapper)).toContain('Wires from');
    await wrapper.get('input[type=checkbox]').setValue(false);
    expect(wordsOf(wrapper)).not.toContain('Wires from');
    const { wrapper: two } = await form({ things: true }, { only: ['note', 'cellM', 'nothing'] });
    expect(wordsOf(two)).toMatch(/^Note.*Cell/);
    expect(wordsOf(two)).not.toContain('Things too');
  });
});

describe('a choice of datasets', () => {
  it('asks for one where there is none, and has words for choosing none', async () => {
    const { pinia } = await opened();
    const must = await mounted(DatasetChoice, pinia, { label: 'Cloud', datasets: [], modelValue: 0 });
    expect(wordsOf(must)).toBe('CloudChoose');
    const may = await mounted(DatasetChoice, pinia, { label: 'Cloud', datasets: [], modelValue: 0, none: 'none' });
    expect(wordsOf(may)).toBe('Cloudnone');
    const one = dataset(3, 'point-cloud');
    const chosen = await mounted(DatasetChoice, pinia, { label: 'Cloud', datasets: [one], modelValue: 3 });
    expect(wordsOf(chosen)).toBe('Cloudpoint-cloud 3');
  });
});

describe('buttons under a form', () => {
  it('make a result, or another beside it; nothing while something is missing', async () => {
    const { pinia } = await opened();
    const props = { first: 'Smooth surfaces', again: 'Again', there: false, able: false };
    const wrapper = await mounted(AgainButtons, pinia, props);
    expect(button(wrapper, 'Smooth surfaces').attributes('disabled')).toBeDefined();
    await wrapper.setProps({ there: true, able: true });
    await button(wrapper, 'Beside it').trigger('click');
    expect(wrapper.emitted('beside')).toHaveLength(1);
    expect(button(wrapper, 'Again').attributes('disabled')).toBeUndefined();
  });
});

describe('the form of an operation', () => {
  const cloud = (id: number, change = {}) => dataset(id, 'point-cloud', { index: 'x' }, { stage: 'place', ...change });

  it('runs on the latest cloud with the usual settings, changed or not', async () => {
    const unprepared = dataset(9, 'point-cloud');
    const { pinia, server } = await opened({ datasets: [cloud(3), cloud(4), unprepared] });
    const wrapper = await mounted(OperationForm, pinia, { operation: 'smooth' });
    await field(wrapper, 'Neighbours within, m').setValue('0.4');
    await field(wrapper, 'Neighbours within, m').trigger('change');
    await wrapper.get('form').trigger('submit');
    await flushPromises();
    const [sent] = server.sent('POST', '/projects/7/runs') as Array<{
      inputs: object;
      settings: Given;
      operation: string;
    }>;
    expect(sent.operation).toBe('smooth');
    expect(sent.inputs).toEqual({ cloud: 4 });
    expect(sent.settings.radiusM).toBe(0.4);
    await button(wrapper, 'Usual settings').trigger('click');
    expect(Number(field(wrapper, 'Neighbours within, m').element.value)).not.toBe(0.4);
  });

  it('of a result has what it was made with, makes it again in its place, or another beside it', async () => {
    const inputs = [{ role: 'cloud', datasetId: 3, revisionId: 1, contentHash: '' }];
    const made = cloud(5, { stage: 'clean', revision: { id: 70, madeBy: 'smooth', inputs } });
    const { pinia, server } = await opened({ datasets: [cloud(3), cloud(4), made] });
    server.on('GET /projects/7/datasets/5/revisions', [
      { id: 70, number: 1, madeBy: 'smooth', current: true, settings: { radiusM: 0.7, unknown: 1 } },
    ]);
    const wrapper = await mounted(OperationForm, pinia, { operation: 'smooth', made });
    expect(field(wrapper, 'Neighbours within, m').element.value).toBe('0.7');
    await wrapper.get('form').trigger('submit');
    await button(wrapper, 'Beside it').trigger('click');
    await flushPromises();
    const sent = server.sent('POST', '/projects/7/runs') as Array<{
      outputDataset?: number;
      inputs: object;
      settings: Given;
    }>;
    expect(sent.map((s) => s.outputDataset)).toEqual([5, undefined]);
    expect(sent[0].inputs).toEqual({ cloud: 3 });
    expect(sent[0].settings).not.toHaveProperty('unknown');
  });

  it('begins with the data that lie open, where they may serve', async () => {
    const old = cloud(3);
    const { pinia, server } = await opened({ datasets: [old, cloud(4)] });
    const wrapper = await mounted(OperationForm, pinia, { operation: 'smooth', open: old });
    await wrapper.get('form').trigger('submit');
    await wrapper.setProps({ open: dataset(2, 'marks') });
    await wrapper.get('form').trigger('submit');
    await flushPromises();
    const sent = server.sent('POST', '/projects/7/runs') as Array<{ inputs: object }>;
    expect(sent.map((s) => s.inputs)).toEqual([{ cloud: 3 }, { cloud: 4 }]);
  });

  it('cannot start without what it needs', async () => {
    const { pinia } = await opened();
    const wrapper = await mounted(OperationForm, pinia, { operation: 'smooth' });
    expect(button(wrapper, 'Smooth surfaces').attributes('disabled')).toBeDefined();
  });
});
