import { type Antenna } from '@longheron/core/gnss';
import { WEEK_S } from '@longheron/core/time';
import { field, gpsOfDate, label, Lines, rinexBytes } from '../rinex/lines';

const MM = 1e-3;

/** Reads antenna calibrations (ANTEX 1.3, 1.4), absolute ones only; also gzip-compressed. */
export function readAntennas(bytes: Uint8Array, file: string): Antenna[] {
  const lines = new Lines(rinexBytes(bytes, file), file);
  const first = lines.next();
  if (first === undefined || label(first) !== 'ANTEX VERSION / SYST')
    throw lines.problem('The file does not begin as an ANTEX file does.', 'antex-head', 'Choose an ANTEX file.');
  const out: Antenna[] = [];
  let ended = false;
  for (let line = lines.next(); line !== undefined; line = lines.next()) {
    const what = label(line);
    if (what === 'PCV TYPE / REFANT' && line[0].toUpperCase() === 'R')
      throw lines.problem(
        'The calibrations are relative to a reference antenna.',
        'antex-relative',
        'Ask for absolute ones: both kinds cannot be mixed.',
      );
    if (what === 'END OF HEADER') ended = true;
    if (what === 'START OF ANTENNA') out.push(antenna(lines));
  }
  if (!ended) throw lines.problem('The header does not end.', 'antex-cut', 'Copy the file again from its origin.');
  if (out.length === 0) throw lines.problem('The file holds no antenna.', 'antex-empty', 'Choose another ANTEX file.');
  return out;
}

function timeOf(line: string): number {
  const part = (k: number) => field(line, 6 * k, 6 * k + 6);
  const t = gpsOfDate('GPS', part(0), part(1), part(2), part(3), part(4), field(line, 30, 43));
  return t.week * WEEK_S + t.sow;
}

function antenna(lines: Lines): Antenna {
  const a: Antenna = {
    type: '',
    serial: '',
    zenithFromDeg: 0,
    zenithStepDeg: 5,
    azimuthStepDeg: 0,
    centres: new Map(),
    fromGps: -Infinity,
    toGps: Infinity,
  };
  let columns = 0;
  for (;;) {
    const line = need(lines, a);
    const what = label(line);
    if (what === 'END OF ANTENNA') return a;
    if (what === 'TYPE / SERIAL NO') {
      a.type = line.slice(0, 20).trimEnd();
      a.serial = line.slice(20, 40).trim();
    } else if (what === 'DAZI') a.azimuthStepDeg = field(line, 2, 8);
    else if (what === 'ZEN1 / ZEN2 / DZEN') {
      const [from, to, step] = [field(line, 2, 8), field(line, 8, 14), field(line, 14, 20)];
      if (!(step > 0 && to > from))
        throw lines.problem('The zenith angles of the table make no sense.', 'antex-zenith', 'Check the file.');
      a.zenithFromDeg = from;
      a.zenithStepDeg = step;
      columns = Math.round((to - from) / step) + 1;
    } else if (what === 'VALID FROM') a.fromGps = timeOf(line);
    else if (what === 'VALID UNTIL') a.toGps = timeOf(line);
    else if (what === 'START OF FREQUENCY') centre(lines, a, line.slice(3, 6).trim(), columns);
  }
}

function need(lines: Lines, a: Antenna): string {
  const line = lines.next();
  if (line === undefined)
    throw lines.problem(
      `The file ends within antenna ${a.type || 'without name'}.`,
      'antex-cut',
      'The file was cut off: copy it again from its origin.',
    );
  return line;
}

function centre(lines: Lines, a: Antenna, signal: string, columns: number): void {
  let offset: [number, number, number] | undefined;
  let any: Float64Array | undefined;
  const rows: Float64Array[] = [];
  for (;;) {
    const line = need(lines, a);
    const what = label(line);
    if (what === 'END OF FREQUENCY') break;
    if (what === 'NORTH / EAST / UP')
      offset = [field(line, 0, 10) * MM, field(line, 10, 20) * MM, field(line, 20, 30) * MM];
    else {
      // values stand eight columns wide and may run on under the label
      const values = Float64Array.from({ length: columns }, (_, k) => field(line, 8 + 8 * k, 16 + 8 * k) * MM);
      if (values.some(Number.isNaN))
        throw lines.problem(
          `The variations of ${a.type.trim()}, ${signal}, lack values: ${columns} are expected.`,
          'antex-values',
          'The file is damaged: copy it again from its origin.',
        );
      if (line.slice(0, 8).trim() === 'NOAZI') any = values;
      else rows.push(values);
    }
  }
  if (!offset || !any)
    throw lines.problem(`Offset or variations of ${signal} are missing.`, 'antex-values', 'Check the file.');
  const whole = a.azimuthStepDeg > 0 && rows.length === Math.round(360 / a.azimuthStepDeg) + 1;
  const byAzimuthM = whole ? Float64Array.from(rows.flatMap((r) => [...r])) : undefined;
  a.centres.set(signal, { offsetM: offset, anyAzimuthM: any, byAzimuthM });
}
