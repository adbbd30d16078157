import { Problem } from '@longheron/core/shared';
import { readDecimal } from './decimal';

const LF = 10;

/** A column: where its numbers go, from which place on and how many places apart. */
export interface ColumnTarget {
  into: Float64Array;
  from: number;
  step: number;
}

/** A table of named columns of numbers, one of words among them if need be. */
export interface ColumnLayout {
  /** Beginning of the codes of errors, and name of the page in docs/formats. */
  code: string;
  required: readonly string[];
  /** Where a column's numbers go, of as many rows as may come; undefined where they are not wanted. */
  target(name: string, rows: number): ColumnTarget | undefined;
  words?: { name: string; of(word: string): number };
  /** What to do about a column that is missing, and what a file without rows lacks. */
  missing: string;
  empty: string;
}

/** Rows of a layout from pieces of text as they come; a piece may end anywhere. */
export class ColumnRows {
  private rest = '';
  private line = 0;
  count = 0;
  readonly comments = new Map<string, string>();
  private header: string[] | undefined;
  /** The columns by their place in a line. */
  private places: Array<ColumnTarget | undefined> = [];
  private wordsAt = -1;
  /** Numbers that words stand for. */
  words: Uint8Array | undefined;
  /** Line of each row, from 1. */
  readonly lines: Int32Array;
  /** A line with too few or too many values: the last one of a file that was cut off, or a wrong one. */
  private odd: { line: number; count: number } | undefined;

  /** @param most rows that may come. */
  constructor(
    private readonly file: string,
    private readonly most: number,
    private readonly layout: ColumnLayout,
  ) {
    this.lines = new Int32Array(most);
  }

  push(piece: string, last = false): void {
    const text = this.rest + piece;
    let from = 0;
    let lf = text.indexOf('\n');
    let cr = text.indexOf('\r');
    for (;;) {
      if (lf < 0 && cr < 0) break;
      const end = lf < 0 || (cr >= 0 && cr < lf) ? cr : lf;
      let next = end + 1;
      if (end === cr) {
        // what ends a line may itself be cut in two
        if (next === text.length && !last) break;
        if (text.charCodeAt(next) === LF) next++;
      }
      this.take(text, from, end);
      from = next;
      if (lf >= 0 && lf < from) lf = text.indexOf('\n', from);
      if (cr >= 0 && cr < from) cr = text.indexOf('\r', from);
    }
    this.rest = text.slice(from);
    if (!last || this.rest === '') return;
    this.take(this.rest, 0, this.rest.length);
    this.rest = '';
  }

  private take(text: string, from: number, to: number): void {
    this.line++;
    const first = text.charCodeAt(from);
    // digits begin a row; what else a line may be is looked at more closely
    if (!(first >= 48 && first <= 57)) {
      const line = text.slice(from, to).replace(/^\uFEFF/, '');
      if (line.trim() === '') return;
      if (line.startsWith('#')) {
        const match = /^#\s*([\w-]+)\s*:\s*(.*)$/.exec(line);
        if (match) this.comments.set(match[1].toLowerCase(), match[2].trim());
        return;
      }
      if (!this.header) return this.begin(line);
    }
    if (!this.header) return this.begin(text.slice(from, to));
    this.row(text, from, to);
  }

  private begin(line: string): void {
    this.header = line.split(',').map((c) => c.trim());
    const { layout, file, most } = this;
    for (const name of layout.required)
      if (!this.header.includes(name))
        throw new Problem(`The column ${name} is missing.`, {
          code: `${layout.code}-columns`,
          file,
          place: 'header line',
          remedy: layout.missing,
        });
    // a name that comes twice counts once
    this.places = this.header.map((name, k, all) => (all.indexOf(name) < k ? undefined : layout.target(name, most)));
    this.wordsAt = layout.words ? this.header.indexOf(layout.words.name) : -1;
    if (this.wordsAt >= 0) this.words = new Uint8Array(most);
  }

  private row(text: string, start: number, end: number): void {
    const { places, wordsAt, layout } = this;
    if (this.odd) throw this.oddLine(false);
    const r = this.count++;
    this.lines[r] = this.line;
    let cell = 0;
    for (let from = start; from <= end; cell++) {
      let to = text.indexOf(',', from);
      if (to < 0 || to > end) to = end;
      const out = places[cell];
      if (out !== undefined && to > from) {
        const value = readDecimal(text, from, to);
        if (!Number.isFinite(value)) {
          const count = text.slice(start, end).split(',').length;
          if (count === places.length)
            throw this.bad(this.line, this.header![cell], text.slice(from, to), 'not a number');
          this.odd = { line: this.line, count };
          return;
        }
        out.into[out.from + r * out.step] = value;
      } else if (out !== undefined) out.into[out.from + r * out.step] = Number.NaN;
      else if (cell === wordsAt) this.words![r] = layout.words!.of(text.slice(from, to).trim());
      from = to + 1;
    }
    if (cell !== places.length) this.odd = { line: this.line, count: cell };
  }

  private oddLine(last: boolean): Problem {
    const { line, count } = this.odd!;
    return new Problem(`The line has ${count} values, the header ${this.places.length}.`, {
      code: `${this.layout.code}-line`,
      file: this.file,
      place: `line ${line}`,
      remedy: last ? 'The file was cut off: copy it again from its origin.' : 'Correct the line.',
    });
  }

  /** @throws Problem when rows or header are missing, or the last line is not whole. */
  finish(): this {
    const { file, layout } = this;
    if (!this.header)
      throw new Problem('The file has no header line.', {
        code: 'csv-header',
        file,
        place: 'line 1',
        remedy: 'See docs/formats for the columns.',
      });
    if (this.odd) throw this.oddLine(true);
    if (this.count === 0)
      throw new Problem(layout.empty, {
        code: `${layout.code}-empty`,
        file,
        place: 'after the header line',
        remedy: 'Copy the file again from its origin.',
      });
    return this;
  }

  /** An error that names a value by line and column. */
  bad(line: number, column: string, value: string, why: string): Problem {
    return new Problem(`${column} is "${value}": ${why}.`, {
      code: `${this.layout.code}-value`,
      file: this.file,
      place: `line ${line}, column ${column}`,
      remedy: 'Correct the line, or export the data again.',
    });
  }
}
