import { expect, it } from 'vitest';
import { forCommandLine, Problem } from './problem';

it('a problem speaks to the command line in its words, and to the screen in those of the screen', () => {
  const both = new Problem('The base has no position.', {
    code: 'base-position',
    file: 'b.rnx',
    place: 'header',
    remedy: 'Choose its mark.',
    command: 'Give --base-xyz.',
  });
  expect(both.describe()).toBe('b.rnx, header: The base has no position. Give --base-xyz.');
  expect(both.remedy).toBe('Choose its mark.');
  expect(new Problem('It ends.', { code: 'cut', remedy: 'Copy it again.' }).describe()).toBe('It ends. Copy it again.');
  expect(new Problem('It ends.', { code: 'cut' }).describe()).toBe('It ends.');
});

it('a notice for the command line keeps all but the words of the screen', () => {
  const notice = { code: 'c', severity: 'warning' as const, text: 't', effect: 'e', remedy: 'r' };
  expect(forCommandLine(notice)).toEqual(notice);
  expect(forCommandLine({ ...notice, command: 'x' })).toEqual({ ...notice, remedy: 'x' });
});
