import { describe, expect, it } from 'vitest';
import { OPERATIONS, OPERATION_NAMES, operationOf, pastOf, settingWords } from '../operations';
import { KINDS } from '../kinds';
import { STAGES } from '../stages';
import { choice, complete, faultOf, flag, list, number, own, text, usualOf, values, type Schema } from '.';

const schema = {
  cellM: number({ label: 'Cell', reason: '', unit: 'm', min: 0.5, max: 10, usual: 2 }),
  fewest: number({ label: 'Fewest points', reason: '', unit: '', min: 1, max: 9, whole: true, usual: null }),
  method: choice({
    label: 'Method',
    reason: '',
    choices: { plane: 'by a plane', mean: 'by the mean' },
    usual: 'plane',
  }),
  ground: flag({ label: 'Ground points only', reason: '', usual: false }),
  name: text({ label: 'Name', reason: '', most: 5, pattern: /^[a-z]+$/, like: 'abc', usual: null }),
  classes: values({
    label: 'Classes',
    reason: '',
    least: 0,
    most: 2,
    of: number({ label: 'Class', reason: '', unit: '', min: 0, max: 255, whole: true, usual: null }),
  }),
  held: list({
    label: 'Held points',
    reason: '',
    least: 1,
    most: 2,
    fewer: 'At least one point is held.',
    of: { sdM: number({ label: 'SD', reason: '', unit: 'm', min: 0, max: 1, usual: 0.002 }) },
  }),
  span: own({
    label: 'Span',
    reason: '',
    read: (given) => {
      if (!Array.isArray(given) || given.length !== 2) throw new Error('A span has a start and an end.');
      return given as [number, number];
    },
  }),
} satisfies Schema;
const good = { held: [{}], span: [1, 2] };
const fault = (more: object) => faultOf({ settings: schema }, { ...good, ...more })?.message;

describe('settings of a schema', () => {
  it('are right with their ends counted in, and when what may be left out is left out', () => {
    expect(fault({})).toBeUndefined();
    for (const cellM of [0.5, 10]) expect(fault({ cellM })).toBeUndefined();
    expect(fault({ fewest: null, name: null, method: 'mean', classes: [0, 255] })).toBeUndefined();
  });

  it('are refused by a sentence with label, ends and unit', () => {
    const sentence = 'Cell must be between 0.5 and 10 m.';
    for (const cellM of [0.49, 10.01, '2', NaN, Infinity]) expect(fault({ cellM })).toBe(sentence);
    expect(fault({ fewest: 1.5 })).toBe('Fewest points must be a whole number between 1 and 9.');
    expect(fault({ method: 'luck' })).toContain('Method');
    expect(fault({ ground: 'yes' })).toContain('Ground points only');
    expect(fault({ name: 'abcdef' })).toBe('Name must be text of at most 5 characters.');
    expect(fault({ name: 'A1' })).toBe('Name must be written like abc.');
    expect(fault({ classes: [1, 2, 3] })).toContain('Classes');
    expect(fault({ classes: [256] })).toContain('255');
    expect(fault({ held: [] })).toBe('At least one point is held.');
    expect(faultOf({ settings: schema }, { ...good, held: [{ sdM: 2 }] })).toEqual({
      field: 'held.0.sdM',
      message: 'SD must be between 0 and 1 m.',
    });
    expect(fault({ span: [1] })).toBe('A span has a start and an end.');
    expect(fault({ unheardOf: 1 })).toBe('There is no setting "unheardOf".');
  });

  it('obey a rule across them only when each is right by itself', () => {
    const refuse = (s: { readonly [key: string]: unknown }, chosen: { readonly [role: string]: number }) =>
      s.ground && !chosen.cloud ? 'Ground needs a cloud.' : undefined;
    expect(faultOf({ settings: schema, refuse }, { ...good, ground: true })?.message).toBe('Ground needs a cloud.');
    expect(faultOf({ settings: schema, refuse }, { ...good, ground: true }, { cloud: 1 })).toBeUndefined();
    expect(faultOf({ settings: schema, refuse }, { ...good, ground: true, cellM: 0 })?.message).toContain('Cell');
  });

  it('are completed by usual values, rows of lists too, and null counts as left out', () => {
    expect(usualOf(schema)).toEqual({ cellM: 2, method: 'plane', ground: false, classes: [], held: [] });
    expect(complete(schema, { cellM: null, fewest: 3, held: [{}, { sdM: 0 }], span: [1, 2], other: 1 })).toEqual({
      cellM: 2,
      method: 'plane',
      ground: false,
      classes: [],
      fewest: 3,
      span: [1, 2],
      held: [{ sdM: 0.002 }, { sdM: 0 }],
    });
  });
});

describe('every declaration', () => {
  it('is called as its file, makes a kind that there is, in a stage that there is', () => {
    for (const name of OPERATION_NAMES) {
      const d = operationOf(name)!;
      expect(d.name).toBe(name);
      expect(d.result in KINDS).toBe(true);
      expect(STAGES).toContain(d.stage);
      expect(d.version).toBeGreaterThan(0);
    }
  });

  it('has usual values that it does not refuse itself', () => {
    for (const name of OPERATION_NAMES) {
      const { settings } = operationOf(name)!;
      for (const [key, s] of Object.entries(settings)) {
        if (s.type !== 'number' || s.usual === null) continue;
        expect([name, key, s.usual >= s.min && s.usual <= s.max]).toEqual([name, key, true]);
        if (s.whole) expect(Number.isInteger(s.usual)).toBe(true);
      }
    }
  });

  it('has flags that mean one thing each, roles and files included', () => {
    for (const name of OPERATION_NAMES) {
      const { command, roles, settings } = operationOf(name)!;
      if (!command) continue;
      const flags = [
        ...Object.values(roles).map((r) => r.flag),
        ...Object.values({ ...settings, ...command.more }).map((s) => s.flag),
        ...Object.keys({ ...command.files, ...command.joined }),
        command.system?.flag,
        command.tolerance?.flag,
      ].filter((f) => f !== undefined);
      expect([name, ...new Set(flags)]).toEqual([name, ...flags]);
    }
  });
});

describe('words of the trail', () => {
  it('say how something was made, and with what, with labels and units', () => {
    expect(pastOf('place')).toBe(OPERATIONS.place.past);
    expect([pastOf('intake'), pastOf('something of another version')]).toEqual([
      'imported',
      'something of another version',
    ]);
    const words = settingWords('smooth', { radiusM: 0.3, thickM: null, outputDataset: 4 });
    expect(words).toEqual(['Neighbours within: 0.3 m']);
    expect(settingWords('classify', { ground: false, method: 'cloth' })).toEqual([
      'Find the ground: no',
      'How the ground is found: By a cloth',
    ]);
  });
});
