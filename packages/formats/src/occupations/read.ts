import { Problem } from '@longheron/core/shared';
import { type Occupation } from '@longheron/core/trajectory';
import { decodeText, splitCsv } from '../csv';

const REQUIRED = ['name', 'gps_week', 'start_sow', 'end_sow'];

/** Reads when which mark was occupied, docs/formats/occupations.md. Every wrong value is named by line and column. */
export function readOccupations(bytes: Uint8Array, file: string): Occupation[] {
  const table = splitCsv(decodeText(bytes, file), file);
  const at = (name: string) => table.header.indexOf(name);
  for (const name of REQUIRED)
    if (at(name) < 0)
      throw new Problem(`The column ${name} is missing.`, {
        code: 'occupations-columns',
        file,
        place: 'header line',
        remedy: `A list of occupations has the columns ${REQUIRED.join(', ')} and perhaps antenna_height_m.`,
      });
  return table.rows.map((row, r) => {
    const cells = row.split(',').map((c) => c.trim());
    const wrong = (name: string, what: string) =>
      new Problem(`${name} is "${cells[at(name)] ?? ''}": ${what}.`, {
        code: 'occupations-value',
        file,
        place: `line ${table.lineNumbers[r]}, column ${name}`,
        remedy: 'Correct the line.',
      });
    const number = (name: string): number => {
      const text = cells[at(name)] ?? '';
      const value = text === '' ? NaN : Number(text);
      if (!Number.isFinite(value)) throw wrong(name, 'not a number');
      return value;
    };
    const name = cells[at('name')] ?? '';
    if (!name) throw wrong('name', 'a mark needs a name');
    const [startSow, endSow] = [number('start_sow'), number('end_sow')];
    if (!(endSow > startSow)) throw wrong('end_sow', 'it does not lie after the start');
    const height =
      at('antenna_height_m') >= 0 && cells[at('antenna_height_m')] ? number('antenna_height_m') : undefined;
    if (height !== undefined && !(height >= 0 && height < 50))
      throw wrong('antenna_height_m', 'not a height in metres');
    return { name, week: number('gps_week'), startSow, endSow, antennaHeightM: height };
  });
}
