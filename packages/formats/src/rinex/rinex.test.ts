import { gzipSync } from 'node:zlib';
import { describe, expect, it } from 'vitest';
import { bandColumns, type Observations } from '@longheron/core/gnss';
import { readNavigation } from '../navigation';
import { readObservations } from '.';

const bytes = (text: string) => new TextEncoder().encode(text);
const head = (rows: Array<[string, string]>) => rows.map(([text, name]) => `${text.padEnd(60)}${name}\n`).join('');
const value = (o: Observations, epoch: number, satellite: string, type: string) => {
  for (let row = o.start[epoch]; row < o.start[epoch + 1]; row++)
    if (o.satellites[o.satellite[row]] === satellite)
      return o.values[row * o.width + o.types[satellite[0] as 'G']!.indexOf(type)];
  return undefined;
};
const problem = (work: () => unknown) => {
  try {
    work();
  } catch (error) {
    return error as { code: string; place: string; remedy: string };
  }
  throw new Error('nothing was wrong');
};

const HEAD_3 = head([
  ['     3.04           OBSERVATION DATA    M', 'RINEX VERSION / TYPE'],
  ['A 9080', 'MARKER NAME'],
  ['                    MADE UP             1.0', 'REC # / TYPE / VERS'],
  ['                    MADE UP ANTENNA NONE', 'ANT # / TYPE'],
  ['  3530000.0000   525000.0000  5270000.0000', 'APPROX POSITION XYZ'],
  ['        0.0832        0.0000        0.0000', 'ANTENNA: DELTA H/E/N'],
  ['G   14 C1C L1C D1C S1C C1W S1W C2W L2W D2W S2W C2L L2L D2L', 'SYS / # / OBS TYPES'],
  ['       S2L', 'SYS / # / OBS TYPES'],
  ['R    1 C1C', 'SYS / # / OBS TYPES'],
  ['E    3 C1C L1C S1C', 'SYS / # / OBS TYPES'],
  ['  2026     6    16     9     0    0.5000000     GPS', 'TIME OF FIRST OBS'],
  ['', 'END OF HEADER'],
]);
const obs = (v: number, lli = ' ', strength = ' ') => `${v.toFixed(3).padStart(14)}${lli}${strength}`;
const blank = ' '.repeat(16);

describe('observations of RINEX 3', () => {
  const text =
    HEAD_3 +
    '> 2026 06 16 09 00  0.5000000  0  3\n' +
    `G05${obs(22345678.123)}${obs(117423456.789, '1', '7')}${obs(-1234.5)}${obs(45)}${blank}${blank}${obs(22345680.5)}${obs(91499001.25)}\n` +
    `E 3${obs(25000000.125)}${obs(0)}${obs(40)}\n` +
    `R07${obs(21000000)}\n` +
    '> 2026 06 16 09 00 30.0000000  4  2\n' +
    `${'A NEW CABLE'.padEnd(60)}COMMENT\n` +
    `${'        1.5000        0.0000        0.0000'.padEnd(60)}ANTENNA: DELTA H/E/N\n` +
    '> 2026 06 16 09 01  0.5000000  1  1\n' +
    `G05${obs(22345690)}${obs(117423500)}\n`;
  it('keep types over two lines, half seconds, missing values, events and restarts', () => {
    const { observations: o, notices } = readObservations(bytes(text), 'a.rnx');
    expect(o.types.G).toHaveLength(14);
    expect([o.week, ...o.sow]).toEqual([2423, 205200.5, 205260.5]);
    expect(o.satellites).toEqual(['G05', 'E03', 'R07']);
    expect(value(o, 0, 'G05', 'L1C')).toBe(117423456.789);
    expect(value(o, 0, 'G05', 'D1C')).toBe(-1234.5);
    expect(value(o, 0, 'G05', 'C1W')).toBeNaN();
    expect(value(o, 0, 'G05', 'L2W')).toBe(91499001.25);
    expect(value(o, 0, 'E03', 'L1C')).toBeNaN();
    expect(value(o, 0, 'R07', 'C1C')).toBe(21000000);
    expect([o.lost[1], o.lost[3 * o.width]]).toEqual([1, 1]);
    expect(notices.map((n) => n.code)).toEqual(['rinex-event']);
    expect(o.antennaDeltaM[0]).toBe(1.5);
    expect([o.marker, o.antenna]).toEqual(['A 9080', 'MADE UP ANTENNA NONE']);
    // the band's best tracking mode that has both code and phase
    expect(bandColumns(o.types.G!, 'G', '2')).toMatchObject({ code: 6, phase: 7, strength: 9 });
    expect(bandColumns(o.types.G!, 'G', '5')).toBeUndefined();
  });
  it('are the same packed by gzip, with other line ends', () => {
    const packed = gzipSync(bytes(text.replaceAll('\n', '\r\n')));
    expect([...readObservations(packed, 'a.rnx.gz').observations.values]).toEqual([
      ...readObservations(bytes(text), 'a.rnx').observations.values,
    ]);
  });
  it('keep what is whole of a file that was cut off, and say so', () => {
    const first = '> 2026 06 16 09 00  0.5000000  0  1\n' + `G05${obs(22345678)}\n`;
    const cut = `${HEAD_3}${first}> 2026 06 16 09 00  1.5000000  0  2\nG05${obs(22345678)}\n`;
    const { observations, notices } = readObservations(bytes(cut), 'cut.rnx');
    expect([...observations.sow]).toEqual([205200.5]);
    expect(observations.satellite).toHaveLength(1);
    expect(notices).toMatchObject([{ code: 'rinex-cut', severity: 'warning', place: 'line 16' }]);
  });
  it('name the place of what is wrong', () => {
    expect(
      problem(() =>
        readObservations(
          bytes('1.0                 COMPACT RINEX FORMAT'.padEnd(60) + 'CRINEX VERS   / TYPE\n'),
          'c.crx',
        ),
      ),
    ).toMatchObject({ code: 'rinex-compact', place: 'line 1' });
    expect(problem(() => readObservations(gzipSync(bytes(text)).subarray(0, 300), 'a.gz')).code).toBe('rinex-gzip');
    expect(problem(() => readObservations(bytes(HEAD_3.slice(0, 400)), 'a.rnx')).code).toBe('rinex-cut');
    const back = text + '> 2026 06 16 08 00  0.0000000  0  0\n';
    expect(problem(() => readObservations(bytes(back), 'a.rnx'))).toMatchObject({
      code: 'rinex-time',
      place: 'line 22',
    });
    expect(problem(() => readObservations(bytes(`${HEAD_3}garbage\n`), 'a.rnx'))).toMatchObject({
      code: 'rinex-epoch',
      place: 'line 13',
    });
    expect(problem(() => readObservations(bytes(HEAD_3), 'a.rnx')).code).toBe('rinex-empty');
  });
});

describe('observations of RINEX 2', () => {
  it('take satellite lists over two lines, five values a line, blank system letters', () => {
    const names = Array.from({ length: 13 }, (_, k) =>
      k < 2 ? ` ${String(k + 1).padStart(2)}` : `G${String(k + 1).padStart(2)}`,
    );
    const rows = names.map((_, k) => `${obs(2e7 + k)}${obs(1e8 + k)}${blank}${blank}${obs(8e7 + k)}\n${obs(30 + k)}\n`);
    const text =
      head([
        ['     2.11           OBSERVATION DATA    G (GPS)', 'RINEX VERSION / TYPE'],
        ['     6    C1    L1    P1    P2    L2    S1', '# / TYPES OF OBSERV'],
        ['  2026     6    16     9     0    0.0000000     GPS', 'TIME OF FIRST OBS'],
        ['', 'END OF HEADER'],
      ]) +
      ` 26  6 16  9  0  0.0000000  0 13${names.slice(0, 12).join('')}\n${' '.repeat(32)}${names[12]}\n` +
      rows.join('') +
      ' 26  6 16  9  0 15.0000000  6  1G01\n' +
      `${obs(0)}\n` +
      ` 26  6 16  9  0 30.0000000  0  1G04\n${rows[3]}`;
    const { observations: o } = readObservations(bytes(text), 'a.26o');
    expect([...o.sow]).toEqual([205200, 205230]);
    expect(o.satellites[0]).toBe('G01');
    expect([...o.start]).toEqual([0, 13, 14]);
    expect([value(o, 0, 'G13', 'C1C'), value(o, 0, 'G13', 'L2W'), value(o, 0, 'G13', 'S1C')]).toEqual([
      20000012, 80000012, 42,
    ]);
    expect(value(o, 0, 'G02', 'C2W')).toBeNaN();
  });
});

describe('navigation', () => {
  const row = (...v: number[]) => v.map((x) => x.toExponential(12).replace('e', 'D').padStart(19)).join('');
  const orbit = (indent: string, week: number) =>
    [
      row(12, -57.25, 4.5e-9, -2.1),
      row(-3.1e-6, 0.0123, 6.2e-6, 5153.7),
      row(208800, 1.7e-7, -1.23, -9.3e-8),
      row(0.96, 231.5, 0.765, -8.2e-9),
      row(-1.2e-10, 1, week, 0),
      row(2, 0, -5.6e-9, 12),
      row(207000, 4),
    ]
      .map((r) => `${indent}${r}\n`)
      .join('');
  it('is read from RINEX 2, with its ionosphere and a week counted modulo 1024', () => {
    const text =
      head([
        ['     2.11           N: GPS NAV DATA', 'RINEX VERSION / TYPE'],
        ['    .3820D-07   .1490D-07  -.1790D-06   .0000D+00', 'ION ALPHA'],
        ['    .1430D+06   .0000D+00  -.3280D+06   .1130D+06', 'ION BETA'],
        ['', 'END OF HEADER'],
      ]) + ` 7 26  6 16 10  0  0.0${row(-1.2e-4, -3.4e-12, 0)}\n${orbit('   ', 2423 - 2048)}`;
    const nav = readNavigation(bytes(text), 'a.26n');
    expect(nav.ionosphere).toEqual({ alpha: [3.82e-8, 1.49e-8, -1.79e-7, 0], beta: [1.43e5, 0, -3.28e5, 1.13e5] });
    expect(nav.records).toHaveLength(1);
    expect(nav.records[0]).toMatchObject({
      satellite: 'G07',
      week: 2423,
      tocS: 208800,
      toeWeek: 2423,
      toeS: 208800,
      sqrtA: 5153.7,
      e: 0.0123,
      crsM: -57.25,
      crcM: 231.5,
      cis: -9.3e-8,
      omegaDot: -8.2e-9,
      groupDelayS: -5.6e-9,
      health: 0,
      iode: 12,
    });
  });
  it('counts what it does not use, and names a record that is cut off', () => {
    const top = head([
      ['     3.04           N: GNSS NAV DATA    M', 'RINEX VERSION / TYPE'],
      ['', 'END OF HEADER'],
    ]);
    const glonass = `R07 2026 06 16 09 15 00${row(1e-5, 0, 0)}\n${`    ${row(1, 2, 3, 4)}\n`.repeat(3)}`;
    const galileo = `E11 2026 06 16 10 00 00${row(-1.2e-4, -3.4e-12, 0)}\n${orbit('    ', 2423)}`;
    const nav = readNavigation(bytes(top + glonass + galileo), 'a.rnx');
    expect(nav.counts).toEqual({ R: 1, E: 1 });
    expect(nav.records.map((r) => r.satellite)).toEqual(['E11']);
    expect(problem(() => readNavigation(bytes(top + galileo.slice(0, 300)), 'a.rnx'))).toMatchObject({
      code: 'rinex-cut',
    });
    const absurd = galileo.replace('5.153700000000D+3', '5.153700000000D+7');
    expect(problem(() => readNavigation(bytes(top + absurd), 'a.rnx')).code).toBe('rinex-orbit');
    expect(problem(() => readNavigation(bytes(top), 'a.rnx')).code).toBe('rinex-empty');
  });
});
