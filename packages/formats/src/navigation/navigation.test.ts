import { describe, expect, it } from 'vitest';
import { readNavigation } from '.';

const number = (v: number) => {
  const [m, e] = v.toExponential(12).split('e');
  return `${m}E${Number(e) < 0 ? '-' : '+'}${String(Math.abs(Number(e))).padStart(2, '0')}`.padStart(19);
};

/** A Galileo record of RINEX 3.04 with a clock, a data source and two group delays, seconds. */
function record(clockS: number, source: number, delayE5aS: number, delayE5bS: number): string {
  const rows = [
    [1, 20, 3e-9, 0.5],
    [1e-6, 1e-4, 2e-6, 5440.6],
    [208800, 0, 1, 0],
    [0.98, 150, -1, -5e-9],
    [1e-10, source, 2423, 0],
    [3.12, 0, delayE5aS, delayE5bS],
    [208000, 0, 0, 0],
  ];
  const first = `E11 2026 06 16 10 00 00${[clockS, 1e-12, 0].map(number).join('')}`;
  return [first, ...rows.map((r) => `    ${r.map(number).join('')}`)].join('\n');
}
const file = (...records: string[]) =>
  new TextEncoder().encode(
    [
      '     3.04           N: GNSS NAV DATA    E: GALILEO          RINEX VERSION / TYPE',
      `${''.padEnd(60)}END OF HEADER`,
      ...records,
      '',
    ].join('\n'),
  );

describe('Galileo clocks', () => {
  it('of both messages come out alike: that of E1 and E5b is brought to E1 and E5a', () => {
    const [a, b] = [4e-9, 7e-9];
    // one clock at the antenna: each message leaves its own pair's delay to the user
    const ofE5a = 1e-4;
    const ofE5b = ofE5a - a + b;
    const { records } = readNavigation(file(record(ofE5a, 258, a, 0), record(ofE5b, 517, a, b)), 'both');
    expect(records[0].af0S).toBeCloseTo(1e-4, 18);
    expect(records[1].af0S).toBeCloseTo(1e-4, 15);
    expect(records.map((r) => r.groupDelayS)).toEqual([a, a]);
    expect(records[0].groupDelayE5bS).toBeUndefined();
    expect(records[1].groupDelayE5bS).toBeCloseTo(b, 18);
  });
  it('without a data source are taken as they are', () => {
    expect(readNavigation(file(record(1e-4, 0, 4e-9, 7e-9)), 'old').records[0].af0S).toBe(1e-4);
  });
});
