import { parse } from 'csv-parse/sync';
import { type Mark, type MarkRole } from '@longheron/core/accuracy';
import { METRES_PER, type LengthUnit } from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';
import { csvCell, decodeText } from '../csv';

/** A delimited table as text, before its columns are given a meaning. */
export interface RawTable {
  delimiter: string;
  header: string[];
  rows: string[][];
  /** Line of each row, from 1. */
  lines: number[];
  comments: Map<string, string>;
}

/** Which column holds what; `unit` of each coordinate. */
export interface MarkMapping {
  name: number;
  role?: number;
  easting: number;
  northing: number;
  height: number;
  sdE?: number;
  sdN?: number;
  sdH?: number;
  note?: number;
  unit: LengthUnit;
  /** Role for rows that give none. */
  defaultRole: MarkRole;
  /** `1,234` is 1.234. */
  decimalComma: boolean;
}

/** Splits any delimited text: comma, semicolon, tab or blanks; `#` lines are comments. */
export function readTable(bytes: Uint8Array, file: string): RawTable {
  const text = decodeText(bytes, file).replace(/\r\n|\r/g, '\n');
  const comments = new Map<string, string>();
  for (const line of text.split('\n')) {
    const match = /^#\s*([\w-]+)\s*:\s*(.*)$/.exec(line);
    if (match) comments.set(match[1].toLowerCase(), match[2].trim());
  }
  const first = text.split('\n').find((l) => l.trim() && !l.startsWith('#')) ?? '';
  const delimiter = [';', '\t', ',', ' '].find((d) => first.split(d).length >= 4) ?? ',';
  let records: Array<{ record: string[]; info: { lines: number } }>;
  try {
    records = parse(text, {
      delimiter,
      comment: '#',
      comment_no_infix: true,
      skip_empty_lines: true,
      trim: true,
      relax_column_count: true,
      info: true,
      ...(delimiter === ' ' ? { ignore_last_delimiters: true } : {}),
    }) as unknown as typeof records;
  } catch (error) {
    const e = error as { message: string; lines?: number };
    throw new Problem(`The table cannot be read: ${e.message}.`, {
      code: 'table',
      file,
      place: `line ${e.lines ?? '?'}`,
      remedy: 'Check quotes and separators on that line.',
    });
  }
  const cells = records.map((r) => (delimiter === ' ' ? r.record.filter((c) => c !== '') : r.record));
  if (cells.length === 0)
    throw new Problem('The file has no lines of data.', {
      code: 'file-empty',
      file,
      place: 'line 1',
      remedy: 'Copy the file again from its origin.',
    });
  const hasHeader = cells[0].filter((c) => c !== '' && Number.isFinite(Number(c.replace(',', '.')))).length < 2;
  const header = hasHeader ? cells[0] : cells[0].map((_, i) => `column ${i + 1}`);
  const from = hasHeader ? 1 : 0;
  return { delimiter, header, rows: cells.slice(from), lines: records.slice(from).map((r) => r.info.lines), comments };
}

const UNIT_SUFFIX: Array<[RegExp, LengthUnit]> = [
  [/_ftus$/i, 'usSurveyFoot'],
  [/_ft$/i, 'foot'],
  [/_m$/i, 'metre'],
];

/** Guesses the columns from their names; undefined when easting, northing and height are not all there. */
export function guessMapping(table: RawTable): MarkMapping | undefined {
  const find = (...patterns: RegExp[]): number | undefined => {
    for (const p of patterns) {
      const i = table.header.findIndex((h) => p.test(h.trim()));
      if (i >= 0) return i;
    }
    return undefined;
  };
  const easting = find(/^easting/i, /^(e|x|east)(_m|_ft|_ftus)?$/i);
  const northing = find(/^northing/i, /^(n|y|north)(_m|_ft|_ftus)?$/i);
  const height = find(/^height/i, /^(h|z|elev\w*)(_m|_ft|_ftus)?$/i);
  if (easting === undefined || northing === undefined || height === undefined) return undefined;
  const unit = UNIT_SUFFIX.find(([p]) => p.test(table.header[easting]))?.[1] ?? 'metre';
  return {
    name: find(/^(name|id|point|mark|no\.?|number)$/i) ?? 0,
    easting,
    northing,
    height,
    unit,
    role: find(/^role$/i),
    sdE: find(/^sd_e/i),
    sdN: find(/^sd_n/i),
    sdH: find(/^sd_h/i),
    note: find(/^(note|remark|comment|code|description)/i),
    defaultRole: 'unused',
    decimalComma: table.delimiter === ';' && table.rows.some((r) => /^\d+,\d+$/.test(r[easting] ?? '')),
  };
}

/** Turns the table into marks, metres. Wrong values are named by line and column. */
export function marksFromTable(table: RawTable, mapping: MarkMapping, file: string): Mark[] {
  const factor = METRES_PER[mapping.unit];
  const seen = new Map<string, number>();
  return table.rows.map((row, r) => {
    const line = table.lines[r];
    const fail = (column: number, why: string) =>
      new Problem(`${table.header[column] ?? `column ${column + 1}`} is "${row[column] ?? ''}": ${why}.`, {
        code: 'marks-value',
        file,
        place: `line ${line}`,
        remedy: 'Correct the line, or choose other columns.',
      });
    const number = (column: number | undefined): number | undefined => {
      if (column === undefined || (row[column] ?? '') === '') return undefined;
      const value = Number(mapping.decimalComma ? row[column].replace(',', '.') : row[column]);
      if (!Number.isFinite(value)) throw fail(column, 'not a number');
      return value * factor;
    };
    const must = (column: number): number => {
      const value = number(column);
      if (value === undefined) throw fail(column, 'a coordinate is missing');
      if (Math.abs(value) > 1e8) throw fail(column, 'no such coordinate on Earth');
      return value;
    };
    const name = row[mapping.name]?.trim() ?? '';
    if (!name) throw fail(mapping.name, 'a mark needs a name');
    if (seen.has(name)) throw fail(mapping.name, `the same name stands on line ${seen.get(name)}`);
    seen.set(name, line);
    const said = mapping.role === undefined ? '' : (row[mapping.role] ?? '').trim().toLowerCase();
    const known = ['control', 'check', 'unused'].includes(said);
    return {
      name,
      role: known ? (said as MarkRole) : mapping.defaultRole,
      eastingM: must(mapping.easting),
      northingM: must(mapping.northing),
      heightM: must(mapping.height),
      sdEM: number(mapping.sdE),
      sdNM: number(mapping.sdN),
      sdHM: number(mapping.sdH),
      note: mapping.note === undefined ? undefined : row[mapping.note] || undefined,
      code: said && !known ? row[mapping.role!].trim() : undefined,
    };
  });
}

/** Reads marks whose columns can be recognised by name. */
export function readMarks(bytes: Uint8Array, file: string): { marks: Mark[]; crs?: string; unit: LengthUnit } {
  const table = readTable(bytes, file);
  const mapping = guessMapping(table);
  if (!mapping)
    throw new Problem(
      `The columns for easting, northing and height are not recognised among: ${table.header.join(', ')}.`,
      {
        code: 'marks-columns',
        file,
        place: 'header line',
        remedy: 'Name them easting_m, northing_m, height_m, or choose the columns on import.',
      },
    );
  return { marks: marksFromTable(table, mapping, file), crs: table.comments.get('crs'), unit: mapping.unit };
}

const round = (v: number | undefined, d: number) => (v === undefined ? '' : v.toFixed(d));

/** Writes the marks layout, docs/formats/marks.md. */
export function marksCsv(marks: Mark[], crs?: string): string {
  const lines = crs ? [`# crs: ${crs}`] : [];
  lines.push('name,role,easting_m,northing_m,height_m,sd_e_m,sd_n_m,sd_h_m,note');
  for (const m of marks)
    lines.push(
      [
        csvCell(m.name),
        m.role,
        round(m.eastingM, 4),
        round(m.northingM, 4),
        round(m.heightM, 4),
        round(m.sdEM, 4),
        round(m.sdNM, 4),
        round(m.sdHM, 4),
        csvCell(m.note),
      ].join(','),
    );
  return `${lines.join('\n')}\n`;
}
