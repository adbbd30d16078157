import { METRES_PER, type LengthUnit } from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';
import { decodeText, splitCsv } from '../csv';

/** A distance between two points, as it was taped. */
export interface KnownDistance {
  from: string;
  to: string;
  valueM: number;
  /** As it was written, in its own unit. */
  given: number;
  unit: LengthUnit;
  /** 1 SD, metres. */
  sdM: number;
  /** It gives the scale, or is compared afterwards. */
  use: 'scale' | 'check';
  /** What was written beside it on site. */
  note?: string;
}

const VALUES: ReadonlyArray<{ column: string; unit: LengthUnit }> = [
  { column: 'value_m', unit: 'metre' },
  { column: 'value_ft', unit: 'foot' },
  { column: 'value_ftUS', unit: 'usSurveyFoot' },
];
const MOST_M = 50_000;

/** Reads known distances, docs/formats/picks.md; a value stands in the column of its unit. @throws Problem that names line and column. */
export function readDistances(bytes: Uint8Array, file: string): KnownDistance[] {
  const table = splitCsv(decodeText(bytes, file), file);
  const at = (name: string) => table.header.indexOf(name);
  const values = VALUES.filter(({ column }) => at(column) >= 0);
  const missing = ['from', 'to', 'sd_m', 'use'].find((name) => at(name) < 0);
  if (missing || !values.length)
    throw new Problem(`The column ${missing ?? 'value_m'} is missing.`, {
      code: 'distances-columns',
      file,
      place: 'header line',
      remedy: 'Known distances have the columns from, to, value_m (or value_ft, value_ftUS), sd_m and use.',
    });
  return table.rows.map((row, r) => {
    const cells = row.split(',').map((c) => c.trim());
    const cell = (name: string) => cells[at(name)] ?? '';
    // the last column may have commas of its own
    const note =
      at('note') < 0 ? '' : at('note') === table.header.length - 1 ? cells.slice(at('note')).join(', ') : cell('note');
    const wrong = (name: string, what: string) =>
      new Problem(`${name} is "${cell(name)}": ${what}.`, {
        code: 'distances-value',
        file,
        place: `line ${table.lineNumbers[r]}, column ${name}`,
        remedy: 'Correct the line.',
      });
    const [from, to] = [cell('from'), cell('to')];
    if (!from) throw wrong('from', 'a point needs a name');
    if (!to || to === from) throw wrong('to', 'a distance leads to another point');
    const written = values.filter(({ column }) => cell(column) !== '');
    if (written.length > 1) throw wrong(written[1].column, `the distance stands under ${written[0].column} already`);
    const { column, unit } = written[0] ?? values[0];
    const given = cell(column) === '' ? Number.NaN : Number(cell(column));
    const valueM = given * METRES_PER[unit];
    if (!(valueM > 0 && valueM < MOST_M)) throw wrong(column, 'no distance between two points');
    const sdM = cell('sd_m') === '' ? Number.NaN : Number(cell('sd_m'));
    if (!(sdM > 0 && sdM < valueM)) throw wrong('sd_m', 'deviations are metres above zero, and less than the distance');
    const use = cell('use');
    if (use !== 'scale' && use !== 'check') throw wrong('use', 'known are scale and check');
    return { from, to, valueM, given, unit, sdM, use, ...(note ? { note } : {}) };
  });
}
