import { describe, expect, it } from 'vitest';
import { rolesByRules, splitByArea, type Mark } from '.';

const mark = (name: string, eastingM: number, northingM: number, more: Partial<Mark> = {}): Mark => ({
  name,
  role: 'unused',
  eastingM,
  northingM,
  heightM: 2,
  ...more,
});

describe('roles by rules', () => {
  const marks = [
    mark('N101', 0, 0, { code: 'GCP' }),
    mark('n102', 0, 1, { code: 'gcp' }),
    mark('C+1', 0, 2, { note: 'paint on kerb' }),
    mark('X', 0, 3, { role: 'check' }),
  ];
  it('follow the first that fits, without regard to case, and leave the rest', () => {
    const found = rolesByRules(marks, [
      { text: 'n101', where: 'name', role: 'unused' },
      { text: 'GCP', where: 'code', role: 'control' },
      { text: 'C+*', where: 'name', role: 'check' },
      { text: '', where: 'note', role: 'unused' },
    ]);
    expect(found.map((f) => f.role)).toEqual(['unused', 'control', 'check', 'check']);
    expect(found.map((f) => f.why)).toEqual(['name n101', 'code GCP', 'name C+*', undefined]);
  });
  it('take the text as it stands but for the star', () => {
    const role = (text: string) =>
      rolesByRules([mark('A.B(1)', 0, 0)], [{ text, where: 'name', role: 'check' }])[0].role;
    expect([role('A.B(1)'), role('*b(*'), role('AxB(1)'), role('A.B')]).toEqual(['check', 'check', 'unused', 'unused']);
  });
});

describe('a split by area', () => {
  // two rows along 400 m, as beside a road
  const marks = Array.from({ length: 24 }, (_, i) =>
    mark(`M${i}`, (i % 12) * 36, i < 12 ? 0 : 10, { role: 'control' }),
  );
  it('gives the number asked for, spread so that every quarter of the road has its share', () => {
    for (const checks of [4, 8, 12]) {
      const roles = splitByArea(marks, checks);
      const chosen = marks.filter((_, i) => roles[i].role === 'check');
      expect(chosen).toHaveLength(checks);
      for (let quarter = 0; quarter < 4; quarter++)
        expect(chosen.filter((m) => Math.floor(m.eastingM / 108) === quarter)).toHaveLength(checks / 4);
    }
  });
  it('goes to the ends, and leaves unused and left-out marks alone', () => {
    const some = [...marks, mark('U', 5, 5), mark('L', 6, 5, { role: 'check', leftOutReason: 'disturbed' })];
    const count = (checks: number) => splitByArea(some, checks).filter((r) => r.role === 'check').length;
    expect([count(0), count(24), count(99)]).toEqual([1, 25, 25]);
    expect(splitByArea(some, 5)[24]).toEqual({ name: 'U', role: 'unused' });
  });
});
