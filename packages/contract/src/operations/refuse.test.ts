import { describe, expect, it } from 'vitest';
import { complete, faultOf, usualOf, type Declaration, type Given } from '../declare';
import { OPERATIONS, operationOf, type Operation } from '.';

/** What is wrong with settings and inputs, as form, request and command line all say it. */
const fault = (name: Operation, settings: Given = {}, chosen: { [role: string]: number } = {}) => {
  const declaration: Declaration = OPERATIONS[name];
  const roles = Object.fromEntries(Object.keys(declaration.roles).map((r) => [r, 0]));
  return faultOf(declaration, settings, { ...roles, ...chosen })?.message;
};

describe('rules across settings and inputs', () => {
  it.each<[Operation, Given, { [role: string]: number }, RegExp]>([
    ['classify', { ground: false, noise: false }, { cloud: 1 }, /Nothing to do/],
    ['merge', {}, { clouds: 1 }, /Two clouds at least/],
    ['class-check', {}, { cloud: 1 }, /one of them/],
    ['class-check', {}, { cloud: 1, against: 1, outlines: 1 }, /one of them/],
    ['export-cloud', { format: 'csv', split: 'tiles' }, { cloud: 1 }, /only\.$/],
    ['position', {}, { rover: 1, base: 1 }, /Neither navigation nor precise orbits/],
    ['position', {}, { rover: 1, base: 1, navigation: 1, inertial: 1 }, /lever arm/],
    ['position', { startGps: 1e9, startSow: 100 }, { rover: 1, base: 1, navigation: 1 }, /not in both/],
    ['local-system', { plan: 'none', heights: 'none' }, { local: 1, control: 1 }, /Neither plan nor heights/],
    ['ground-system', { eastingM: 1 }, {}, /Say easting and northing/],
    ['chart-datum', {}, {}, /Give one of the three/],
    ['chart-datum', { separationM: 39 }, { gauge: 1 }, /Give one of the three/],
    ['network', { held: [{ name: 'A', sdPlanM: 0, sdHeightM: 0 }] }, { recordings: 2 }, /Neither navigation/],
  ])('of %s: %j with %j is refused in words', (name, settings, chosen, words) => {
    expect(fault(name, settings, chosen)).toMatch(words);
  });

  it.each<[Operation, Given, { [role: string]: number }]>([
    ['classify', { ground: true, noise: false }, { cloud: 1 }],
    ['merge', {}, { clouds: 2 }],
    ['class-check', {}, { cloud: 1, outlines: 1 }],
    ['export-cloud', { format: 'las', split: 'tiles' }, { cloud: 1 }],
    ['position', {}, { rover: 1, base: 1, orbits: 1 }],
    ['local-system', { plan: 'none', heights: 'slopes' }, { local: 1, control: 1 }],
    ['ground-system', { eastingM: 467000, northingM: 6215000 }, {}],
    ['chart-datum', { separationM: -3.2 }, {}],
    ['chart-datum', {}, { surface: 1 }],
  ])('of %s: %j with %j is allowed', (name, settings, chosen) => {
    expect(fault(name, settings, chosen)).toBeUndefined();
  });
});

describe('every operation', () => {
  const all = Object.entries<Declaration>(OPERATIONS);

  it.each(all)('%s is found by its name, and its usual settings are themselves in order', (name, declaration) => {
    expect(operationOf(name)).toBe(declaration);
    expect(declaration.name).toBe(name);
    const usual = usualOf(declaration.settings);
    for (const [key, setting] of Object.entries(declaration.settings)) {
      const value = usual[key];
      if (setting.type === 'number' && typeof value === 'number')
        expect([key, value >= setting.min && value <= setting.max]).toEqual([key, true]);
      if (setting.type === 'choice' && typeof value === 'string') expect(Object.keys(setting.choices)).toContain(value);
    }
    expect(complete(declaration.settings, {})).toMatchObject(usual);
  });

  it.each(all)('%s refuses a number beyond its range by the name of the setting', (_, declaration) => {
    // what must be given comes first
    const must = faultOf(declaration, {}, {})?.field;
    for (const [key, s] of Object.entries(declaration.settings)) {
      if (s.type !== 'number' || (must && must in declaration.settings)) continue;
      const found = faultOf(declaration, { [key]: s.max + 1 }, {});
      expect([key, found?.field]).toEqual([key, key]);
      expect(found?.message.length).toBeGreaterThan(10);
    }
  });

  it.each(all.filter(([, d]) => d.command))(
    '%s has an example with flags that it knows',
    (_, { command, roles, settings }) => {
      const known = new Set([
        ...Object.values(roles).map((r) => r.flag),
        ...Object.values({ ...settings, ...command!.more }).flatMap((s) => [
          s.flag,
          s.type === 'flag' ? s.flagOff : undefined,
          ...(s.type === 'choice' ? Object.keys(s.switches ?? {}) : []),
        ]),
        ...Object.keys(command!.files),
        ...Object.keys(command!.joined ?? {}),
        command!.system?.flag,
        command!.tolerance?.flag,
        'geoid',
        'shift',
        'systems',
        'report',
        'quiet',
      ]);
      const used = [...command!.example.matchAll(/--([\w-]+)/g)].map(([, flag]) => flag);
      expect(used.filter((flag) => !known.has(flag))).toEqual([]);
      expect(command!.example).toContain(`longheron ${command!.name}`);
    },
  );
});
