import { Problem } from '@longheron/core/shared';
import { csvCell, decodeText, splitCsv } from '../csv';

/** What was measured on site between two marks without satellites. */
export interface Measurement {
  from: string;
  to: string;
  /** Slope distance between the marks, or levelled height of `to` less that of `from`. */
  kind: 'distance' | 'height';
  valueM: number;
  /** 1 SD, metres. */
  sdM: number;
  note: string;
}

const COLUMNS = ['from', 'to', 'kind', 'value_m', 'sd_m'];
const MAX_DISTANCE_M = 50_000;
const MAX_HEIGHT_M = 5_000;

/** Reads distances and height differences, docs/formats/measurements.md. Every wrong value is named by line and column. */
export function readMeasurements(bytes: Uint8Array, file: string): Measurement[] {
  const table = splitCsv(decodeText(bytes, file), file);
  const at = (name: string) => table.header.indexOf(name);
  for (const name of COLUMNS)
    if (at(name) < 0)
      throw new Problem(`The column ${name} is missing.`, {
        code: 'measurements-columns',
        file,
        place: 'header line',
        remedy: `A list of measurements has the columns ${COLUMNS.join(', ')} and perhaps note.`,
      });
  return table.rows.map((row, r) => {
    const cells = row.split(',').map((c) => c.trim());
    const cell = (name: string) => (at(name) < 0 ? '' : (cells[at(name)] ?? ''));
    const wrong = (name: string, what: string) =>
      new Problem(`${name} is "${cell(name)}": ${what}.`, {
        code: 'measurements-value',
        file,
        place: `line ${table.lineNumbers[r]}, column ${name}`,
        remedy: 'Correct the line.',
      });
    const number = (name: string): number => {
      const value = cell(name) === '' ? NaN : Number(cell(name));
      if (!Number.isFinite(value)) throw wrong(name, 'not a number');
      return value;
    };
    const [from, to] = [cell('from'), cell('to')];
    if (!from) throw wrong('from', 'a mark needs a name');
    if (!to || to === from) throw wrong('to', to ? 'it is the mark that it was measured from' : 'a mark needs a name');
    const kind = cell('kind');
    if (kind !== 'distance' && kind !== 'height') throw wrong('kind', 'known are distance and height');
    const valueM = number('value_m');
    if (kind === 'distance' && !(valueM > 0 && valueM < MAX_DISTANCE_M))
      throw wrong('value_m', 'no distance in metres');
    if (Math.abs(valueM) > MAX_HEIGHT_M && kind === 'height') throw wrong('value_m', 'no height difference in metres');
    const sdM = number('sd_m');
    if (!(sdM > 0 && sdM < 10)) throw wrong('sd_m', 'deviations are metres above zero');
    return { from, to, kind, valueM, sdM, note: cell('note') };
  });
}

/** Writes distances and height differences. */
export function measurementsCsv(list: Measurement[]): string {
  const rows = list.map((m) =>
    [csvCell(m.from), csvCell(m.to), m.kind, m.valueM.toFixed(4), m.sdM.toFixed(4), csvCell(m.note)].join(','),
  );
  return `${[...COLUMNS, 'note'].join(',')}\n${rows.join('\n')}\n`;
}
