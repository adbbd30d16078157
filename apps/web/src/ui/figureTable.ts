/** A column of a table of figures. */
export interface Column<T> {
  key: string;
  label: string;
  hint?: string;
  /** Figures stand right, in figures of one width. */
  right?: boolean;
  mono?: boolean;
  /** Sentences, which go on in a further line. */
  wrap?: boolean;
  /** What it is sorted by and saved with, in the unit of its heading; without it it is neither. */
  value?: (row: T) => string | number | boolean | null | undefined;
}

/** Rows in another order; those without a value come last either way, equal ones stay as they were. */
export function sorted<R>(
  rows: readonly R[],
  value: (row: R) => string | number | boolean | null | undefined,
  down: boolean,
): R[] {
  const none = (v: unknown) => v === null || v === undefined || Number.isNaN(v);
  return [...rows].sort((p, q) => {
    const [a, b] = [value(p), value(q)];
    if (none(a) || none(b)) return Number(none(a)) - Number(none(b));
    const by =
      typeof a === 'number' && typeof b === 'number'
        ? a - b
        : String(a).localeCompare(String(b), 'en', { numeric: true });
    return down ? -by : by;
  });
}

/** The columns that have values, as text: a heading, then a line for each row. */
export function csvOf<T>(columns: ReadonlyArray<Column<T>>, rows: readonly T[], separator: string): string {
  const kept = columns.filter((c) => c.value);
  const cell = (v: unknown) => {
    if (v === null || v === undefined || (typeof v === 'number' && !Number.isFinite(v))) return '';
    const t = String(v);
    // what a spreadsheet would take for a formula is kept a text
    const safe = typeof v === 'string' && /^[=+@-]/.test(t) && !/^[+-]?[\d.]+$/.test(t) ? `'${t}` : t;
    return /["\n\r]/.test(safe) || safe.includes(separator) ? `"${safe.replaceAll('"', '""')}"` : safe;
  };
  const line = (cells: unknown[]) => `${cells.map(cell).join(separator)}\n`;
  return line(kept.map((c) => c.label)) + rows.map((row) => line(kept.map((c) => c.value!(row)))).join('');
}
