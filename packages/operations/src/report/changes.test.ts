import { describe, expect, it } from 'vitest';
import { changesBetween, changesChapter, type ReportSummary } from './changes';

const first: ReportSummary = {
  revision: 1,
  trail: [
    { name: 'a.las', revision: 1, hash: 'aa', settings: null },
    { name: 'Classified cloud', revision: 2, hash: 'bb', settings: { method: 'triangles', cellM: 0.5 } },
    { name: 'Old marks', revision: 1, hash: 'cc', settings: null },
  ],
  reference: { horizontal: 25832, vertical: 5773, unit: 'metre', epoch: 2026.45 },
  toleranceM: 0.03,
  rmseM: 0.0123,
  checkMarks: 9,
};

describe('what has changed between two reports', () => {
  it('is nothing when nothing has', () => {
    expect(changesBetween(first, structuredClone(first))).toEqual([]);
    expect(JSON.stringify(changesChapter(first, first))).toContain('Nothing that this report rests on');
    expect(changesChapter(null, first)).toEqual([]);
  });

  it('is named with what it was and what it is, the reference line and the figures first', () => {
    const now: ReportSummary = structuredClone(first);
    now.reference = { horizontal: 25832, vertical: 0, unit: 'foot' };
    now.rmseM = 0.02;
    now.trail[1] = { name: 'Classified cloud', revision: 3, hash: 'dd', settings: { method: 'cloth', cellM: 0.5 } };
    now.trail[2] = { name: 'New marks', revision: 1, hash: 'ee', settings: null };
    now.trail[0].hash = 'a2';
    expect(changesBetween(first, now)).toEqual([
      ['Heights', 'EPSG:5773', 'ellipsoidal'],
      ['Length unit of the report', 'metre', 'foot'],
      ['Epoch of coordinates', '2026.45', 'undefined'],
      ['RMSE of height', '0.0123 m', '0.0200 m'],
      ['a.las', 'revision 1', 'revision 1, made anew'],
      ['Classified cloud, setting method', '"triangles"', '"cloth"'],
      ['Classified cloud', 'revision 2', 'revision 3'],
      ['New marks', 'not part of it', 'revision 1'],
      ['Old marks', 'revision 1', 'no longer part of it'],
    ]);
  });
});
