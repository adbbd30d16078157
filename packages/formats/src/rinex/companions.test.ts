import { describe, expect, it } from 'vitest';
import { readAntennas } from '../antex';
import { joinOrbits, readOrbits } from '../sp3';

const bytes = (text: string) => new TextEncoder().encode(text);
const row = (text: string, label: string) => `${text.padEnd(60)}${label}`;

// by hand, after the standard's own layout
const ANTEX = [
  row('     1.4            M', 'ANTEX VERSION / SYST'),
  row('A', 'PCV TYPE / REFANT'),
  row('', 'END OF HEADER'),
  row('', 'START OF ANTENNA'),
  row('TYPE ONE        DOME1234567', 'TYPE / SERIAL NO'),
  row('    90.0', 'DAZI'),
  row('     0.0  10.0   5.0', 'ZEN1 / ZEN2 / DZEN'),
  row('     1', '# OF FREQUENCIES'),
  row('  2020     6     1     0     0    0.0000000', 'VALID FROM'),
  row('   G01', 'START OF FREQUENCY'),
  row('      0.58     -0.37     91.85', 'NORTH / EAST / UP'),
  '   NOAZI    0.00   -0.22   -0.86',
  ...[0, 90, 180, 270, 360].map((az) => `${az.toFixed(1).padStart(8)}    0.00   -0.2${az / 90}   -0.80`),
  row('   G01', 'END OF FREQUENCY'),
  row('', 'END OF ANTENNA'),
  row('', 'START OF ANTENNA'),
  row('BLOCK X             G07', 'TYPE / SERIAL NO'),
  row('     0.0', 'DAZI'),
  row('     0.0   2.0   1.0', 'ZEN1 / ZEN2 / DZEN'),
  row('   G01', 'START OF FREQUENCY'),
  row('    394.00      0.00   1501.80', 'NORTH / EAST / UP'),
  '   NOAZI   -0.80   -0.90   -0.90',
  row('   G01', 'END OF FREQUENCY'),
  row('', 'END OF ANTENNA'),
];

describe('antenna calibrations', () => {
  it('are read with offsets, variations and validity', () => {
    const [one, satellite] = readAntennas(bytes(ANTEX.join('\r\n')), 'a.atx');
    expect(one.type).toBe('TYPE ONE        DOME');
    expect(one.serial).toBe('1234567');
    const c = one.centres.get('G01')!;
    expect(c.offsetM[2]).toBeCloseTo(0.09185, 12);
    expect(c.anyAzimuthM[2]).toBeCloseTo(-0.00086, 12);
    expect(c.byAzimuthM!.length).toBe(15);
    expect(c.byAzimuthM![3 * 3 + 1]).toBeCloseTo(-0.00023, 12);
    // 1 June 2020, day of the week 1: week 2108
    expect(one.fromGps).toBe(2108 * 604800 + 86400);
    expect(satellite.serial).toBe('G07');
    expect(satellite.centres.get('G01')!.offsetM).toEqual([0.394, 0, expect.closeTo(1.5018, 12)]);
  });
  it.each([
    ['cut off', ANTEX.slice(0, 14).join('\n'), /ends within antenna TYPE ONE/],
    ['of relative kind', ANTEX.join('\n').replace(/^A {59}PCV/m, `R${' '.repeat(59)}PCV`), /relative/],
    ['with too few values', ANTEX.join('\n').replace('   -0.22   -0.86', '   -0.22'), /lack values/],
    ['of another kind', 'hello', /does not begin/],
  ])('%s are refused', (_, text, message) => {
    expect(() => readAntennas(bytes(text), 'a.atx')).toThrow(message);
  });
});

const SP3 = (hour: number) =>
  [
    `#cP2026  6 16 ${hour}  0  0.00000000       2 ORBIT IGS14 FIT TEST`,
    '%c M  cc GPS ccc cccc cccc cccc cccc ccccc ccccc ccccc ccccc',
    `*  2026  6 16 ${hour}  0  0.00000000`,
    'PG01  15402.861499  21607.418873   -992.400178    -12.345678',
    'PE02      0.000000      0.000000      0.000000 999999.999999',
    `*  2026  6 16 ${hour} 15  0.00000000`,
    'PG01  15402.000000  21607.000000   -990.000000 999999.999999',
    'EOF',
  ].join('\n');

describe('precise orbits', () => {
  it('are read in metres and seconds, with what is missing told apart', () => {
    const t = readOrbits(bytes(SP3(10)), 'o.sp3');
    expect(t.satellites).toEqual(['E02', 'G01']);
    expect(t.gps[1] - t.gps[0]).toBe(900);
    // Tuesday 16 June 2026 is day 2 of week 2423
    expect(t.gps[0]).toBe(2423 * 604800 + 2 * 86400 + 36000);
    expect(t.xyzM[3 * 2]).toBeCloseTo(15402861.499, 6);
    expect(t.clockS[2]).toBeCloseTo(-12.345678e-6, 15);
    expect(t.clockS[3]).toBeNaN();
    expect(t.xyzM[0]).toBeNaN();
  });
  it('of two files become one', () => {
    const t = joinOrbits([readOrbits(bytes(SP3(11)), 'b'), readOrbits(bytes(SP3(10)), 'a')]);
    expect([...t.gps].map((g) => g - t.gps[0])).toEqual([0, 900, 3600, 4500]);
    expect(t.xyzM[3 * (4 + 2)]).toBeCloseTo(15402861.499, 6);
  });
  it.each([
    ['cut off', SP3(10).slice(0, -20), /no end mark|cannot be read/],
    ['of another kind', 'x', /does not begin/],
  ])('%s are refused', (_, text, message) => {
    expect(() => readOrbits(bytes(text), 'o.sp3')).toThrow(message);
  });
});
