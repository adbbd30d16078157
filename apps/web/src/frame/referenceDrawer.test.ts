// @vitest-environment happy-dom
import { enableAutoUnmount, flushPromises } from '@vue/test-utils';
import { nextTick } from 'vue';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { type ChangedDto, type ReferenceDto } from '@longheron/contract/api';
import { useView } from '../stores/view';
import { button, field, mounted, wordsOf } from '../test/mounted';
import { dataset, opened } from '../test/project';
import ReferenceBar from './ReferenceBar.vue';
import ReferenceDrawer from './ReferenceDrawer.vue';
import ReferenceEffect from './ReferenceEffect.vue';

enableAutoUnmount(afterEach);
afterEach(() => vi.unstubAllGlobals());

const SHA = 'b692fc0505710000000000000000000000000000000000000000000000000000';
const UTM: ReferenceDto = {
  horizontal: 25832,
  horizontalName: 'ETRS89 / UTM zone 32N',
  proj4: '+proj=utm +zone=32',
  bbox: null,
  vertical: 5773,
  verticalName: 'EGM96 height',
  unit: 'metre',
  time: 'gps',
  statement: '',
};
const CHANGED: ChangedDto = {
  moved: {
    latDeg: 56.08,
    lonDeg: 8.47,
    of: 'drive.csv',
    eastingM: [467000, 467000],
    northingM: [6215000, 6215000],
    heightM: [3.048, 43.048],
  },
  items: [
    { name: 'control.csv', kind: 'marks', what: 'carried', count: 4, words: 'carried from EPSG:25832+5773' },
    { name: 'Cloud', kind: 'point-cloud', what: 'made anew', count: 0, words: 'goes out of date' },
    { name: 'old.las', kind: 'point-cloud', what: 'by hand', count: 0, words: 'stays as it is; bring it in' },
  ],
};

async function drawer(change: Partial<ReferenceDto> = {}) {
  const system = dataset(
    21,
    'system',
    {
      object: SHA,
      facts: {
        details: [
          ['System', 'Quay'],
          ['Plan', 'UTM'],
          ['Heights', 'Quay heights'],
        ],
      },
    },
    { name: 'Quay.wkt' },
  );
  const made = await opened({ project: { reference: { ...UTM, ...change } }, datasets: [system] });
  made.server.on('GET /projects/7/suggested-reference', []);
  made.server.on('GET /projects', [
    { id: 7, name: 'Reach', reference: UTM },
    { id: 8, name: 'Last year', reference: { ...UTM, horizontal: 25833, horizontalName: 'ETRS89 / UTM zone 33N' } },
    { id: 9, name: 'Nothing set', reference: null },
  ]);
  made.server.on('POST /projects/7/reference/preview', CHANGED);
  made.server.on('PUT /projects/7/reference', {});
  made.server.on('PATCH /projects/7', {});
  const wrapper = await mounted(ReferenceDrawer, made.pinia);
  const open = async () => {
    useView().drawer = 'reference';
    await nextTick();
    await flushPromises();
  };
  const choose = async (name: string, words: string) => {
    await wrapper.get(`input[aria-label="${name}"]`).trigger('click');
    await flushPromises();
    const option = [...document.querySelectorAll('.el-select-dropdown__item')].find((o) => o.textContent === words);
    (option as HTMLElement).click();
    await flushPromises();
  };
  return { ...made, wrapper, open, choose };
}

describe('the reference line', () => {
  it('says what another system does before it is set, and sends it with its tolerances', async () => {
    const { wrapper, server, open, choose } = await drawer();
    await open();
    expect(wordsOf(wrapper)).not.toContain('What it does to coordinates');
    await choose('Heights refer to', 'the ellipsoid');
    const words = wordsOf(wrapper);
    expect(words).toContain('What it does to coordinates');
    expect(words).toMatch(/Height\s*3\.048\s*43\.048\s*\+40\.000/);
    expect(words).toContain('Carried along, and can be taken back: control.csv (4).');
    expect(words).toContain('old.las stays as it is; bring it in.');
    expect(server.sent('PUT', '/projects/7/reference')).toEqual([]);
    await field(wrapper, 'Plan: largest RMSE at check marks').setValue('0.05');
    await field(wrapper, 'Plan: largest RMSE at check marks').trigger('change');
    await wrapper.get('form').trigger('submit');
    await flushPromises();
    expect(server.sent('PUT', '/projects/7/reference')).toEqual([
      { unit: 'metre', time: 'gps', horizontal: 25832, vertical: 0, ownHeights: false },
    ]);
    expect(server.sent('PATCH', '/projects/7')).toEqual([
      { toleranceM: 0.03, planToleranceM: 0.05, classTolerance: 95, surfaceToleranceM: 0.02, purpose: '' },
    ]);
  });

  it('is opened with a system of the project, plan and heights', async () => {
    const { wrapper, server, open } = await drawer();
    useView().proposedSystem = 21;
    await open();
    expect(wordsOf(wrapper)).toContain('Quay.wkt, of this project');
    expect(wordsOf(wrapper)).toContain('what Quay.wkt says');
    await wrapper.get('form').trigger('submit');
    await flushPromises();
    expect(server.sent('PUT', '/projects/7/reference')).toMatchObject([
      { horizontal: 0, plan: 21, vertical: 0, ownHeights: true },
    ]);
  });

  it('shows as a change that its file was made again since', async () => {
    const plan = { dataset: 21, name: 'Quay.wkt', sha12: '0123456789ab' };
    const { wrapper, open } = await drawer({
      horizontal: 0,
      plan,
      horizontalName: 'Quay',
      vertical: 0,
      fileHeights: 'used',
    });
    await open();
    expect(wordsOf(wrapper)).toMatch(/System\s*Quay \(Quay\.wkt\)\s*Quay\.wkt/);
    expect(wordsOf(wrapper)).toContain('What it does to coordinates');
  });

  it('is taken over from another project that has one', async () => {
    const { wrapper, server, open, choose } = await drawer();
    server.on('POST /projects/7/reference/take', {
      ...UTM,
      horizontal: 25833,
      horizontalName: 'ETRS89 / UTM zone 33N',
    });
    await open();
    await choose('Another project', 'Last year: ETRS89 / UTM zone 33N (25833), EGM96 height');
    expect(server.sent('POST', '/projects/7/reference/take')).toEqual([{ from: 8 }]);
    expect(wordsOf(wrapper)).toContain('ETRS89 / UTM zone 33N (25833)');
  });

  it('has its tolerances in the unit that is chosen', async () => {
    const { wrapper, open } = await drawer({ unit: 'foot' });
    await open();
    const input = field(wrapper, 'Heights: largest RMSE at check marks').element as HTMLInputElement;
    expect(Number(input.value)).toBeCloseTo(0.03 / 0.3048, 4);
    expect(button(wrapper, 'Set the reference line').exists()).toBe(true);
  });
});

describe('what another line does', () => {
  it('is told in the unit of the project', async () => {
    const { pinia } = await opened();
    const wrapper = await mounted(ReferenceEffect, pinia, { effect: CHANGED, unitM: 0.3048, symbol: 'ft' });
    expect(wordsOf(wrapper)).toMatch(/Height\s*10\.000\s*141\.234\s*\+131\.234/);
    expect(wordsOf(wrapper)).toContain('in ft');
  });
});

describe('the line on every screen', () => {
  const line = async (reference: Partial<ReferenceDto>) => {
    const { pinia } = await opened({ project: { reference: { ...UTM, ...reference } } });
    return wordsOf(await mounted(ReferenceBar, pinia));
  };

  it('says of what heights are, and when depths are asked for', async () => {
    expect(await line({})).toMatch(/UTM zone 32N \(25832\).*H EGM96 ± 5 mm/s);
    expect(await line({ vertical: 0 })).toContain('H ellipsoidal');
    const file = { dataset: 21, name: 'site.gtx', sha12: SHA.slice(0, 12) };
    expect(await line({ vertical: 0, geoid: file, verticalName: 'height above the geoid site.gtx' })).toContain(
      'H above site.gtx',
    );
    expect(
      await line({ vertical: 0, geoid: file, verticalName: 'height above the geoid site.gtx', surfaceSdM: 0.015 }),
    ).toContain('H above site.gtx ± 15 mm');
    const datum = { ...file, name: 'cd.wkt' };
    expect(await line({ vertical: 0, geoid: datum, verticalName: 'Reach datum', depths: true })).toContain(
      'depths below Reach datum, shown as heights, positive up',
    );
    expect(
      await line({
        horizontal: 0,
        horizontalName: 'Quay',
        plan: datum,
        vertical: 0,
        fileHeights: 'used',
        verticalName: 'Quay heights',
      }),
    ).toMatch(/Quay \(cd\.wkt\).*H Quay heights/s);
  });
});
