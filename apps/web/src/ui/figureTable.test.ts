// @vitest-environment happy-dom
import { type VueWrapper } from '@vue/test-utils';
import { createPinia } from 'pinia';
import { describe, expect, it } from 'vitest';
import { type Component } from 'vue';
import { mounted, wordsOf } from '../test/mounted';
import FigureTable from './FigureTable.vue';
import { csvOf, sorted, type Column } from './figureTable';

/** Of rows of any kind: its type alone is none of a component's. */
const Table = FigureTable as Component;

interface Row {
  name: string;
  off: number | null;
}
const ROWS: Row[] = [
  { name: 'K10', off: -1.25 },
  { name: 'K2', off: null },
  { name: 'K1', off: 3 },
];
const COLUMNS: Array<Column<Row>> = [
  { key: 'name', label: 'Mark', value: (r) => r.name },
  { key: 'off', label: 'Off, cm', right: true, value: (r) => r.off },
  { key: 'act', label: ' ' },
];
const names = (rows: Row[]) => rows.map((r) => r.name);

describe('rows in another order', () => {
  it('follow numbers, and numbers in names; what has no value comes last either way', () => {
    expect(names(sorted(ROWS, (r) => r.off, false))).toEqual(['K10', 'K1', 'K2']);
    expect(names(sorted(ROWS, (r) => r.off, true))).toEqual(['K1', 'K10', 'K2']);
    expect(names(sorted(ROWS, (r) => r.name, false))).toEqual(['K1', 'K2', 'K10']);
    expect(names(ROWS)).toEqual(['K10', 'K2', 'K1']);
  });
});

describe('a table as text', () => {
  it('has all digits, nothing where there is nothing, and no column without values', () => {
    expect(csvOf(COLUMNS, ROWS, ',')).toBe('Mark,"Off, cm"\nK10,-1.25\nK2,\nK1,3\n');
    expect(csvOf(COLUMNS, [{ name: 'a\tb', off: 1 / 3 }], '\t')).toBe(`Mark\tOff, cm\n"a\tb"\t${1 / 3}\n`);
  });
  it('keeps what a spreadsheet would compute a text, and quotes', () => {
    const of = (name: string) => csvOf([COLUMNS[0]], [{ name, off: 0 }], ',').split('\n')[1];
    expect(of('=1+1')).toBe("'=1+1");
    expect(of('@x')).toBe("'@x");
    expect(of('-12.5')).toBe('-12.5');
    expect(of('the "old" one')).toBe('"the ""old"" one"');
  });
});

describe('a table of figures', () => {
  const shown = (w: VueWrapper) => w.findAll('tbody tr').map((r) => r.get('td').text());

  it('is sorted up, down, and as it came, by pressing a heading that has values', async () => {
    const w = await mounted(Table, createPinia(), { columns: COLUMNS, rows: ROWS, name: 'marks' });
    const [first, second, third] = w.findAll('th');
    expect(shown(w)).toEqual(['K10', 'K2', 'K1']);
    expect([first.attributes('aria-sort'), third.attributes('aria-sort')]).toEqual(['none', undefined]);
    await second.find('button').trigger('click');
    expect(shown(w)).toEqual(['K10', 'K1', 'K2']);
    expect(second.attributes('aria-sort')).toBe('ascending');
    await second.find('button').trigger('click');
    expect(shown(w)).toEqual(['K1', 'K10', 'K2']);
    await second.find('button').trigger('click');
    expect(shown(w)).toEqual(['K10', 'K2', 'K1']);
    expect(wordsOf(w)).toContain('Off, cm');
  });

  it('tells which row was pressed by its place in what was given, however it is sorted', async () => {
    const w = await mounted(Table, createPinia(), { columns: COLUMNS, rows: ROWS, pick: true });
    await w.findAll('th')[0].find('button').trigger('click');
    await w.findAll('tbody tr')[0].trigger('click');
    expect(w.emitted('pick')).toEqual([[ROWS[2], 2]]);
  });
});
