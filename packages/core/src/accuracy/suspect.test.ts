import { describe, expect, it } from 'vitest';
import { Random } from '../numeric';
import { suspectMarks, type Mark, type MarkContext } from '.';

const mark = (name: string, e: number, n: number, h: number, more: Partial<Mark> = {}): Mark => ({
  name,
  role: 'check',
  eastingM: 467_000 + e,
  northingM: 6_215_000 + n,
  heightM: h,
  ...more,
});
/** Nine good marks, 50 m apart, at about 4 m. */
const GOOD = Array.from({ length: 9 }, (_, k) => mark(`G${k}`, 50 * (k % 3), 50 * Math.floor(k / 3), 4 + k / 10));
const EXTENT: MarkContext['extent'] = [467_000, 6_215_000, 467_100, 6_215_100];
const codes = (more: Mark[], context: MarkContext = { extent: EXTENT }) =>
  suspectMarks([...GOOD, ...more], 'm.csv', context).map((n) => [n.code, n.place]);

describe('marks that cannot be right', () => {
  it('are named one by one, good ones not', () => {
    expect(codes([])).toEqual([]);
    const exchanged = mark('X', 0, 0, 4, { eastingM: 6_215_020, northingM: 467_020 });
    expect(codes([exchanged])).toEqual([['mark-exchanged', 'mark X']]);
    expect(codes([mark('F', 9000, 0, 4)])).toEqual([['mark-far', 'mark F']]);
    expect(codes([mark('H', 30, 30, 40)])).toEqual([['mark-height', 'mark H']]);
  });

  it('with heights above the ellipsoid or in feet are told by how far they are off', () => {
    const context = { extent: EXTENT, undulationM: 41.3 };
    expect(codes([mark('E', 30, 30, 4.2 + 41.3)], context)).toEqual([['mark-ellipsoidal', 'mark E']]);
    expect(codes([mark('FT', 30, 30, 4.4 / 0.3048)])).toEqual([['mark-feet', 'mark FT']]);
    // the same mark once in metres and once in feet
    expect(codes([mark('G4', 50, 50, 4.4 / 0.3048)]).map(([code]) => code)).toContain('mark-feet');
  });

  it('that are there twice, or in two roles, say so; one that is left out does not count', () => {
    expect(codes([mark('D', 50.2, 50.1, 4.6)]).map(([code, place]) => `${code} ${place}`)).toEqual([
      'mark-double mark G4',
      'mark-double mark D',
    ]);
    const control = mark('C', 50.02, 50.03, 4.4, { role: 'control' });
    expect(codes([control]).map(([code]) => code)).toEqual(['mark-two-roles', 'mark-two-roles']);
    const out = { ...control, leftOutReason: 'broken' };
    expect(codes([out]).map(([code]) => code)).not.toContain('mark-two-roles');
  });

  it('are compared with lists that are known already', () => {
    const known = { extent: EXTENT, marks: [mark('OLD', 50, 50, 4.4)] };
    expect(suspectMarks([mark('NEW', 50.1, 50, 4.9)], 'm.csv', known).map((n) => n.code)).toEqual(['mark-double']);
  });
});

describe('long lists', () => {
  const random = new Random(4, 'marks');
  const list = (n: number) =>
    Array.from({ length: n }, (_, k) =>
      mark(`M${k}`, random.between(0, 900), random.between(0, 900), random.between(2, 6)),
    );

  it('have the doubles that comparing each with each finds', () => {
    const marks = list(1500);
    const found = suspectMarks(marks, 'm.csv', { extent: [467_000, 6_215_000, 467_900, 6_215_900] })
      .filter((n) => n.code === 'mark-double')
      .map((n) => n.place);
    const expected = marks.flatMap((m) => {
      const twin = marks.find((o) => o !== m && Math.hypot(o.eastingM - m.eastingM, o.northingM - m.northingM) < 0.5);
      return twin && Math.abs(twin.heightM - m.heightM) > 0.05 ? [`mark ${m.name}`] : [];
    });
    expect(expected.length).toBeGreaterThan(0);
    expect(found).toEqual(expected);
  });

  it('take as much longer as they are longer, not as their square', () => {
    const reads = (n: number) => {
      let count = 0;
      const counted = list(n).map((m) => {
        const { eastingM } = m;
        return Object.defineProperty({ ...m }, 'eastingM', {
          get: () => {
            count++;
            return eastingM;
          },
        });
      });
      suspectMarks(counted, 'm.csv');
      return count;
    };
    // four times as many: four times the reads, and a little for those that are near; sixteen if each met each
    expect(reads(2000) / reads(500)).toBeLessThan(5);
  });
});
