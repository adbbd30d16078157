// @vitest-environment happy-dom
import { enableAutoUnmount, flushPromises } from '@vue/test-utils';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { type DatasetOf, type LocatedDto, type ReferenceDto } from '@longheron/contract/api';
import { button, mounted, wordsOf } from '../../../test/mounted';
import { dataset, opened } from '../../../test/project';
import AddMark from './AddMark.vue';
import ColumnMapping from './ColumnMapping.vue';

enableAutoUnmount(afterEach);
afterEach(() => vi.unstubAllGlobals());

const line = (unit: ReferenceDto['unit']) =>
  ({ unit, horizontal: 25832, vertical: 5773, verticalName: 'EGM96 height', bbox: [84, 6, 38, 12] }) as ReferenceDto;
const LOCATED: LocatedDto = {
  latDeg: 56.08,
  lonDeg: 8.47,
  latText: '56° 04′ 48.00000″ N',
  lonText: '8° 28′ 12.00000″ E',
  eastingM: 467000,
  northingM: 6215000,
  heightM: 3.048,
  hEllM: 43.742,
  undulationM: 40.694,
  distanceM: 304.8,
};

describe('a mark typed in', () => {
  async function form(unit: ReferenceDto['unit'] = 'metre') {
    const { pinia, server } = await opened({ project: { reference: line(unit) } });
    const wrapper = await mounted(AddMark, pinia, { modelValue: true });
    const item = (label: string) => {
      const found = wrapper
        .findAll('.el-form-item')
        .find((i) => i.find('label').exists() && i.find('label').text() === label);
      if (!found) throw new Error(`no field ${label}`);
      return found.get('input');
    };
    const type = async (label: string, value: string) => {
      await item(label).setValue(value);
      await item(label).trigger('change');
      await flushPromises();
    };
    const save = async () => {
      await wrapper.get('form').trigger('submit');
      await flushPromises();
    };
    return { wrapper, server, type, save };
  }

  it('in coordinates of the project is sent in metres, whatever unit is typed', async () => {
    const { server, type, save } = await form('foot');
    await type('Name', 'K20');
    await type('Easting, ft', '1000');
    await type('Northing, ft', '2000');
    await type('Height, ft, EGM96 height', '10');
    await save();
    const [sent] = server.sent('POST', '/projects/7/marks') as Array<Record<string, number>>;
    expect([sent.eastingM, sent.northingM, sent.heightM].map((v) => Number(v.toFixed(6)))).toEqual([
      304.8, 609.6, 3.048,
    ]);
  });

  it('is refused before it is sent while something is missing', async () => {
    const { wrapper, server, type, save } = await form();
    await save();
    expect(wrapper.find('.state.bad').text().length).toBeGreaterThan(5);
    await type('Name', 'K20');
    await save();
    expect(server.sent('POST', '/projects/7/marks')).toEqual([]);
  });

  it('in latitude and longitude is shown back in every form, in the unit of the project', async () => {
    const { wrapper, server, type, save } = await form('foot');
    server.on('POST /projects/7/locate', LOCATED);
    await wrapper.findAll('input[type="radio"]')[1].setValue(true);
    await flushPromises();
    await type('Latitude', '56.08');
    await type('Longitude', '8.47');
    await type('Height, ft', '143.5105');
    const words = wordsOf(wrapper);
    expect(words).toContain('56° 04′ 48.00000″ N');
    expect(words).toMatch(/1\s?532\s?152\.231\s*ft E/);
    // 40.694 m of geoid and 304.8 m of way, in feet
    expect(words).toMatch(/geoid at 133\.51\s*ft/);
    expect(words).toMatch(/From the trajectories\s*1\s?000\s*ft/);
    expect(server.sent('POST', '/projects/7/locate').at(-1)).toMatchObject({ heightIs: 'ellipsoidal' });
    await type('Name', 'K21');
    await save();
    expect(server.sent('POST', '/projects/7/marks')).toMatchObject([
      { name: 'K21', role: 'check', eastingM: 467000, northingM: 6215000, heightM: 3.048 },
    ]);
  });

  it('says why a place cannot be read, and takes nothing', async () => {
    const { wrapper, server, type, save } = await form();
    server.refused.set('POST /projects/7/locate', { title: 'The latitude "95" is none.', remedy: 'Correct it.' });
    await wrapper.findAll('input[type="radio"]')[1].setValue(true);
    await flushPromises();
    await type('Latitude', '95');
    await type('Longitude', '8.47');
    expect(wordsOf(wrapper)).toContain('The latitude "95" is none.');
    await type('Name', 'K22');
    await save();
    expect(server.sent('POST', '/projects/7/marks')).toEqual([]);
  });
});

describe('a table of another program', () => {
  const of = (rows: string[][], mapping: object = {}) =>
    dataset(15, 'table', {
      table: { header: ['No', 'North', 'East', 'Level'], rows, count: rows.length },
      mapping,
    }) as DatasetOf<'table'>;
  async function mapped(table: DatasetOf<'table'>) {
    const { pinia, server } = await opened({ project: { reference: line('metre') }, datasets: [table] });
    return { wrapper: await mounted(ColumnMapping, pinia, { dataset: table }), server };
  }
  const GUESS = { name: 0, easting: 2, northing: 1, height: 3 };

  it('shows what its columns are taken for, and asks for the unit before it is read', async () => {
    const { wrapper, server } = await mapped(of([['P1', '6215310,20', '467120,40', '2,95']], GUESS));
    expect(wordsOf(wrapper)).toContain('First 1 of 1 rows.');
    expect(wrapper.get<HTMLInputElement>('input[type="checkbox"]').element.checked).toBe(true);
    await button(wrapper, 'Read it as marks').trigger('click');
    expect(wordsOf(wrapper)).toContain('Say in which unit the coordinates are.');
    expect(server.sent('POST', '/projects/7/datasets/15/columns')).toEqual([]);
  });

  it('notices easting and northing the wrong way round', async () => {
    const turned = { ...GUESS, easting: 1, northing: 2 };
    const { wrapper } = await mapped(of([['P1', '6215310.20', '467120.40', '2.95']], turned));
    expect(wordsOf(wrapper)).toContain('Easting and northing look exchanged');
    const right = await mapped(of([['P1', '6215310.20', '467120.40', '2.95']], GUESS));
    expect(wordsOf(right.wrapper)).not.toContain('look exchanged');
  });
});
