import { describe, expect, it } from 'vitest';
import { faultOf, rangeSentence, type Declaration, type Given, type Setting } from '../declare';
import { OPERATIONS } from '.';

/** One setting by itself, without the rules across settings. */
const alone = (d: Declaration, given: Given) =>
  faultOf({ settings: Object.fromEntries(Object.keys(given).map((key) => [key, d.settings[key]])) }, given);
const settings = Object.values<Declaration>(OPERATIONS).flatMap((d) =>
  Object.entries(d.settings).map(([key, s]): [string, string, Declaration, Setting] => [d.name, key, d, s]),
);
const ofType = <T extends Setting['type']>(type: T) =>
  settings.filter((row): row is [string, string, Declaration, Extract<Setting, { type: T }>] => row[3].type === type);

describe('every number that an operation takes', () => {
  it.each(ofType('number'))('%s: %s is taken at both ends and refused beyond', (_o, key, d, s) => {
    const step = s.whole ? 1 : Math.max(1e-6, 1e-9 * Math.max(Math.abs(s.min), Math.abs(s.max)));
    for (const value of [s.min, s.max]) expect([value, alone(d, { [key]: value })]).toEqual([value, undefined]);
    for (const value of [s.min - step, s.max + step, Number.NaN, Infinity, '1', true])
      expect([value, alone(d, { [key]: value })]).toEqual([value, { field: key, message: rangeSentence(s) }]);
    if (s.whole) expect(alone(d, { [key]: s.min + 0.5 })?.field).toBe(key);
    // nothing means the usual
    expect(alone(d, { [key]: null })).toBeUndefined();
  });
});

describe('every choice', () => {
  it.each(ofType('choice'))('%s: %s takes its own words alone', (_o, key, d, s) => {
    for (const value of Object.keys(s.choices)) expect(alone(d, { [key]: value })).toBeUndefined();
    for (const value of ['none of these', 1, [], {}]) expect(alone(d, { [key]: value })?.field).toBe(key);
  });
});

describe('every flag', () => {
  it.each(ofType('flag'))('%s: %s is yes or no', (_o, key, d) => {
    for (const value of [true, false]) expect(alone(d, { [key]: value })).toBeUndefined();
    for (const value of ['yes', 0, 1]) expect(alone(d, { [key]: value })?.field).toBe(key);
  });
});

describe('every text', () => {
  it.each(ofType('text'))('%s: %s is refused when it is too long, or no text', (_o, key, d, s) => {
    expect(alone(d, { [key]: 'x'.repeat(s.most + 1) })?.field).toBe(key);
    expect(alone(d, { [key]: 5 })?.field).toBe(key);
    if (s.pattern) expect(alone(d, { [key]: '?' })?.message).toMatch(/written like/);
  });
});

describe('rules across settings', () => {
  it('let strips and tiles be written where the format can hold them', () => {
    const refused = (given: Given) => faultOf(OPERATIONS['export-cloud'], given, { cloud: 1 })?.message;
    for (const given of [{}, { format: 'csv' }, { split: 'tiles' }, { format: 'laz', split: 'strips' }])
      expect([given, refused(given)]).toEqual([given, undefined]);
    for (const format of ['csv', 'ply', 'ply-text'])
      for (const split of ['strips', 'tiles'])
        expect(refused({ format, split })).toBe('Strips and tiles are written as LAS or LAZ only.');
  });
  it('give a base one position, and inertial data their mounting', () => {
    const refused = (given: Given, chosen: { [role: string]: number } = {}) =>
      faultOf(OPERATIONS.position, given, { rover: 1, base: 1, navigation: 1, ...chosen })?.message;
    expect(refused({})).toBeUndefined();
    expect(refused({}, { navigation: 0 })).toMatch(/Neither navigation/);
    expect(refused({}, { navigation: 0, orbits: 1 })).toBeUndefined();
    expect(refused({}, { inertial: 1 })).toMatch(/need a mounting/);
    expect(refused({}, { inertial: 1, antenna: 1 })).toBeUndefined();
    expect(refused({ startGps: 1, startSow: 1 })).toMatch(/not in both/);
    expect(refused({ baseLatDeg: 56, baseMean: true })).toMatch(/one position/);
    expect(refused({ baseXyzM: [1, 2, 3], baseMean: false })).toBeUndefined();
  });
});
