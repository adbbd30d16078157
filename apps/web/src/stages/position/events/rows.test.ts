import { expect, it } from 'vitest';
import { stateOf, type EventRow } from './rows';

it('says of an event what became of it, the reason of a person first', () => {
  const row = (r: Partial<EventRow>) =>
    ({ reason: '', kept: true, stray: false, photo: null, label: '', ...r }) as EventRow;
  expect(stateOf(row({ reason: 'gap' }), 'blurred')).toBe('left out: blurred');
  expect(stateOf(row({ reason: 'outside' }), undefined)).toBe('outside the trajectory');
  expect(stateOf(row({ reason: 'gap' }), undefined)).toBe('in a gap');
  expect(stateOf(row({ stray: true, kept: false, photo: 'a.jpg' }), undefined)).toBe('stray, left out');
  expect(stateOf(row({ photo: 'a.jpg', label: 'x' }), undefined)).toBe('a.jpg');
  expect(stateOf(row({ label: 'x' }), undefined)).toBe('x');
  expect(stateOf(row({ kept: false }), undefined)).toBe('no photograph');
});
