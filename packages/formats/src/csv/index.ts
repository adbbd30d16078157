export * from './columnRows';
export { readDecimal } from './decimal';
export * from './decode';
export * from './pieces';
import { Problem } from '@longheron/core/shared';

/**
 * Splits a text file with `#` comment lines and one header line. Line ends may be LF, CRLF or CR, also mixed.
 * Used by the fixed layouts, where every error must name its line; foreign tables go through csv-parse.
 */
export interface CsvTable {
  comments: Map<string, string>;
  header: string[];
  /** Line number of each row, from 1. */
  lineNumbers: number[];
  rows: string[];
}

export function splitCsv(text: string, file: string): CsvTable {
  const lines = text.split(/\r\n|\n|\r/);
  const comments = new Map<string, string>();
  const lineNumbers: number[] = [];
  const rows: string[] = [];
  let header: string[] | undefined;
  for (let i = 0; i < lines.length; i++) {
    const line = lines[i];
    if (line === '' || line.trim() === '') continue;
    if (line.startsWith('#')) {
      const match = /^#\s*([\w-]+)\s*:\s*(.*)$/.exec(line);
      if (match) comments.set(match[1].toLowerCase(), match[2].trim());
      continue;
    }
    if (!header) header = line.split(',').map((c) => c.trim());
    else {
      rows.push(line);
      lineNumbers.push(i + 1);
    }
  }
  if (!header)
    throw new Problem('The file has no header line.', {
      code: 'csv-header',
      file,
      place: 'line 1',
      remedy: 'See docs/formats for the columns.',
    });
  return { comments, header, lineNumbers, rows };
}

/** A text cell for export: quoted when need be, and kept from being read as a formula. */
export function csvCell(value: string | number | undefined): string {
  if (value === undefined) return '';
  if (typeof value === 'number') return Number.isFinite(value) ? String(value) : '';
  const safe = /^[=+\-@\t]/.test(value) ? `'${value}` : value;
  return /[",\n\r]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
}
