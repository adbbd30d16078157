import { type Ephemeris, type System } from '@longheron/core/gnss';
import { field, gpsOfDate, label, Lines, rinexHead, rinexBytes } from '../rinex/lines';

/** What a navigation file holds. */
export interface Navigation {
  records: Ephemeris[];
  /** Records by system, those not used among them. */
  counts: Partial<Record<System, number>>;
  /** Eight coefficients of the broadcast ionosphere, when given. */
  ionosphere?: { alpha: number[]; beta: number[] };
}

/** Lines that follow the first of a record. GLONASS and SBAS broadcast positions, not orbits. */
const LINES_AFTER: Record<string, number> = { G: 7, E: 7, C: 7, J: 7, I: 7, R: 3, S: 3 };

/** Reads broadcast records of RINEX 2 and 3; orbits of GPS, Galileo and QZSS are kept, others are counted. */
export function readNavigation(bytes: Uint8Array, file: string): Navigation {
  const lines = new Lines(rinexBytes(bytes, file), file);
  const head = rinexHead(lines.next(), file);
  if (!['N', 'G', 'H', 'L'].includes(head.kind))
    throw lines.problem(
      `The file holds "${head.kind}" data, not navigation.`,
      'rinex-kind',
      'Choose the navigation file.',
    );
  const out: Navigation = { records: [], counts: {} };
  readHeader(lines, out);
  const modern = head.version >= 3;
  const alone = head.kind === 'G' ? 'R' : head.kind === 'L' ? 'E' : head.kind === 'H' ? 'S' : 'G';
  for (let line = lines.next(); line !== undefined; line = lines.next()) {
    if (line.trim() === '') continue;
    const system = (modern ? line[0] : alone) as System;
    const more = LINES_AFTER[system] ?? 7;
    // since 3.05 GLONASS records have a line more
    const after = system === 'R' && head.version >= 3.05 ? more + 1 : more;
    const rows = [line];
    for (let k = 0; k < after; k++) {
      const next = lines.next();
      if (next === undefined)
        throw lines.problem(
          `The record of ${line.slice(0, 3).trim()} ends after ${k + 1} of ${after + 1} lines.`,
          'rinex-cut',
          'The file was cut off: copy it again from its origin.',
        );
      rows.push(next);
    }
    out.counts[system] = (out.counts[system] ?? 0) + 1;
    if (system === 'G' || system === 'E' || system === 'J') out.records.push(record(rows, system, modern, lines));
  }
  if (Object.keys(out.counts).length === 0)
    throw lines.problem('The file holds no broadcast record.', 'rinex-empty', 'Choose a navigation file of the day.');
  return out;
}

function readHeader(lines: Lines, out: Navigation): void {
  const four = (line: string, from: number) => [0, 1, 2, 3].map((k) => field(line, from + 12 * k, from + 12 * k + 12));
  let alpha: number[] | undefined;
  let beta: number[] | undefined;
  for (let line = lines.next(); ; line = lines.next()) {
    if (line === undefined)
      throw lines.problem(
        'The header has no end.',
        'rinex-cut',
        'The file was cut off: copy it again from its origin.',
      );
    const name = label(line);
    if (name === 'END OF HEADER') break;
    if (name === 'ION ALPHA') alpha = four(line, 2);
    if (name === 'ION BETA') beta = four(line, 2);
    if (name === 'IONOSPHERIC CORR' && line.startsWith('GPSA')) alpha = four(line, 5);
    if (name === 'IONOSPHERIC CORR' && line.startsWith('GPSB')) beta = four(line, 5);
  }
  if (alpha?.every(Number.isFinite) && beta?.every(Number.isFinite)) out.ionosphere = { alpha, beta };
}

function record(rows: string[], system: System, modern: boolean, lines: Lines): Ephemeris {
  const first = rows[0];
  const number = Number(modern ? first.slice(1, 3) : first.slice(0, 2));
  const date = (modern ? first.slice(4, 23) : first.slice(3, 22)).trim().split(/\s+/).map(Number);
  if (!(number >= 1 && number < 100) || date.length < 6 || date.some((v) => !Number.isFinite(v)))
    throw lines.problem(
      'A broadcast record does not begin with satellite and date.',
      'rinex-record',
      'The file is damaged there: copy it again from its origin.',
    );
  const toc = gpsOfDate('GPS', date[0], date[1], date[2], date[3], date[4], date[5]);
  const indent = modern ? 4 : 3;
  const of = (row: number, k: number) => {
    const value = field(rows[row], indent + 19 * k, indent + 19 * k + 19);
    return Number.isFinite(value) ? value : 0;
  };
  const satellite = `${system}${String(number).padStart(2, '0')}`;
  const made: Ephemeris = {
    satellite,
    system,
    week: toc.week,
    tocS: toc.sow,
    af0S: of(0, 1),
    af1: of(0, 2),
    af2PerS: of(0, 3),
    iode: of(1, 0),
    crsM: of(1, 1),
    deltaN: of(1, 2),
    m0: of(1, 3),
    cuc: of(2, 0),
    e: of(2, 1),
    cus: of(2, 2),
    sqrtA: of(2, 3),
    toeS: of(3, 0),
    cic: of(3, 1),
    omega0: of(3, 2),
    cis: of(3, 3),
    i0: of(4, 0),
    crcM: of(4, 1),
    omega: of(4, 2),
    omegaDot: of(4, 3),
    iDot: of(5, 0),
    toeWeek: of(5, 2),
    health: of(6, 1),
    groupDelayS: of(6, 2),
  };
  if (system === 'E') referGalileo(made, of(5, 1), of(6, 3));
  // some writers give the week modulo 1024: the one nearest the clock's reference is meant
  made.toeWeek += 1024 * Math.round((toc.week - made.toeWeek) / 1024);
  if (!(made.sqrtA > 4000 && made.sqrtA < 8000 && made.e >= 0 && made.e < 0.2))
    throw lines.problem(
      `The orbit of ${satellite} has a root of its axis of ${made.sqrtA} and an eccentricity of ${made.e}.`,
      'rinex-orbit',
      'The file is damaged there: copy it again from its origin.',
    );
  return made;
}

/** Bits of the data source: messages and clocks of the E1–E5a and of the E1–E5b pair (RINEX 3.04, table A8). */
const F_NAV = 1 << 1;
const CLOCK_E5A = 1 << 8;
const CLOCK_E5B = 1 << 9;

/**
 * Galileo sends two messages whose clocks are of two pairs of signals: that of E1 and E5b is brought to E1 and E5a by
 * both group delays, so that all records are alike (Galileo OS SIS ICD, 5.1.5).
 */
function referGalileo(r: Ephemeris, source: number, delayE5bS: number): void {
  const ofE5b = (source & CLOCK_E5B) !== 0 || (source !== 0 && (source & (CLOCK_E5A | F_NAV)) === 0);
  if (ofE5b) r.af0S += r.groupDelayS - delayE5bS;
  // the message of E5a does not hold the delay of E5b
  if (ofE5b || delayE5bS !== 0) r.groupDelayE5bS = delayE5bS;
}
