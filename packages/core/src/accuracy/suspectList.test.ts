import { describe, expect, it } from 'vitest';
import { type Mark } from './marks';
import { suspectMarks } from './suspect';
import { suspectFoot, suspectList } from './suspectList';

const KNOWN: Mark[] = (
  [
    ['A', 467010.2, 6215020.4, 3.2],
    ['B', 467310.8, 6215480.1, 5.9],
    ['C', 466820.5, 6215710.9, 3],
  ] as const
).map(([name, eastingM, northingM, heightM]) => ({ name, role: 'control', eastingM, northingM, heightM }));
const changed = (f: (m: Mark) => [number, number]): Mark[] =>
  KNOWN.map((m) => {
    const [eastingM, northingM] = f(m);
    return { ...m, name: m.name.toLowerCase(), eastingM, northingM };
  });

describe('a list of marks as a whole', () => {
  it('in the other kind of foot is noticed with the amount', () => {
    // 1200/3937 m over 0.3048 m is 1.000002 (to 4 parts in 10¹²)
    const us = changed((m) => [m.eastingM * 1.000002, m.northingM * 1.000002]);
    const found = suspectList(us, KNOWN, 'us.csv')!;
    expect(found.code).toBe('marks-foot-kind');
    // 2 parts in a million of 6232.6 km from the origin
    expect(found.text).toContain('lie 12.47 m from where they are known');
    const back = changed((m) => [m.eastingM / 1.000002, m.northingM / 1.000002]);
    expect(suspectList(back, KNOWN, 'int.csv')!.code).toBe('marks-foot-kind');
  });

  it('in feet that were read as metres, and the other way', () => {
    const long = changed((m) => [m.eastingM / 0.3048, m.northingM / 0.3048]);
    expect(suspectList(long, KNOWN, 'f.csv')!.text).toMatch(/in feet, read as metres/);
    const short = changed((m) => [m.eastingM * 0.3048, m.northingM * 0.3048]);
    expect(suspectList(short, KNOWN, 'f.csv')!.text).toMatch(/in metres, read as feet/);
  });

  it('in a local system is one notice in place of one a mark', () => {
    const local = changed((m) => [1000 + (m.northingM - 6215000), 2000 - (m.eastingM - 467000)]);
    const found = suspectMarks(local, 'site.csv', { marks: KNOWN, extent: [466800, 6215000, 467400, 6215800] });
    expect(found.map((n) => n.code)).toEqual(['marks-local']);
    expect(found[0].text).toMatch(/^The 3 marks of this list lie 6230 km from the survey/);
    // marks that are merely wrong are said one by one
    const odd = local.map((m, i) => ({ ...m, eastingM: m.eastingM + 500 * i }));
    expect(suspectList(odd, KNOWN, 'site.csv')).toBeUndefined();
  });

  it('that agrees, or has other names, is not suspected', () => {
    expect(
      suspectList(
        changed((m) => [m.eastingM + 0.004, m.northingM]),
        KNOWN,
        'a.csv',
      ),
    ).toBeUndefined();
    expect(suspectList([{ ...KNOWN[0], name: 'Z' }], KNOWN, 'a.csv')).toBeUndefined();
  });
});

describe('a list in a foot that its system does not count in', () => {
  it('is noticed with the amount at its coordinates', () => {
    const at: Mark[] = [{ name: 'A', role: 'check', eastingM: 600_000, northingM: 0, heightM: 0 }];
    const found = suspectFoot(at, 'foot', 1200 / 3937, 'ft.csv')!;
    expect(found.text).toContain('1.20 m apart at these coordinates');
    expect(suspectFoot(at, 'usSurveyFoot', 1200 / 3937, 'ft.csv')).toBeUndefined();
    expect(suspectFoot(at, 'metre', 0.3048, 'ft.csv')).toBeUndefined();
    expect(suspectFoot(at, 'usSurveyFoot', 0.3048, 'ft.csv')!.code).toBe('marks-foot-kind');
  });
});
