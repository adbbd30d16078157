export { readDecimal } from './decimal';
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

/** A text as a whole may be this long: strings end at half a gigabyte, and decoding more ends the process. */
const MOST_TEXT_BYTES = 400e6;

/** Decodes UTF-8 (with or without a mark); falls back to UTF-16 with a mark; refuses binary. */
export function decodeText(bytes: Uint8Array, file: string): string {
  if (bytes.length === 0)
    throw new Problem('The file is empty.', {
      code: 'file-empty',
      file,
      place: 'byte 0',
      remedy: 'Copy the file again from its origin.',
    });
  if (bytes.length > MOST_TEXT_BYTES)
    throw new Problem(
      `The text has ${(bytes.length / 1e6).toFixed(0)} MB; of this kind ${MOST_TEXT_BYTES / 1e6} MB can be read.`,
      {
        ...{ code: 'text-long', file, place: `byte ${MOST_TEXT_BYTES}` },
        remedy: 'Cut it into shorter files, or bring it as HDF5 or LAS where the kind has such a layout.',
      },
    );
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return new TextDecoder('utf-16le').decode(bytes);
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return new TextDecoder('utf-16be').decode(bytes);
  const zero = bytes.indexOf(0);
  if (zero >= 0)
    throw new Problem('The file holds binary data, not text.', {
      code: 'file-encoding',
      file,
      place: `byte ${zero}`,
      remedy: 'Choose a text file in UTF-8.',
    });
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    // old spreadsheets write Windows-1252; its bytes above 127 only ever stand in names and notes
    return new TextDecoder('windows-1252').decode(bytes);
  }
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
