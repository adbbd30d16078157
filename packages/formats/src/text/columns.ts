import { type PointColumn, type PointColumns } from '../points';

export { type PointColumn, type PointColumns };

/** Names that columns go by in headers. */
const NAMES: [PointColumn, RegExp][] = [
  ['x', /^(x|e|east(ing)?)(_(m|ft|usft))?$/],
  ['y', /^(y|n|north(ing)?)(_(m|ft|usft))?$/],
  ['z', /^(z|h|height|elevation)(_(m|ft|usft))?$/],
  ['intensity', /^(i|intensity|reflectance)$/],
  ['red', /^(r|red)$/],
  ['green', /^(g|green)$/],
  ['blue', /^(b|blue)$/],
  ['classification', /^(class|classification)$/],
  ['returnNumber', /^(return|return_number|echo)$/],
  ['returnCount', /^(returns|number_of_returns|echoes)$/],
  ['time', /^(t|time|gps_?time)(_s)?$/],
  ['source', /^(strip|point_source_id|scan|source)$/],
];

/** How the text is laid out. */
export interface TextLayout {
  delimiter: ';' | '\t' | ',' | ' ';
  /** `1,5` is 1.5; then a comma parts nothing. */
  decimalComma: boolean;
  header?: string[];
  /** The first data lines, split. */
  sample: string[][];
  columns: number;
  /** From a line `# crs: …`. */
  system?: string;
}

export const splitLine = (line: string, delimiter: TextLayout['delimiter']) =>
  delimiter === ' ' ? line.split(/\s+/) : line.split(delimiter).map((c) => c.trim());

const isNumber = (text: string, decimalComma: boolean) =>
  text !== '' && Number.isFinite(Number(decimalComma ? text.replace(',', '.') : text));

/** Looks at the first lines of a text; undefined when they are no table of numbers with at least three columns. */
export function layoutOf(lines: string[]): TextLayout | undefined {
  const data = lines.map((l) => l.trim()).filter((l) => l && !l.startsWith('#') && !l.startsWith('//'));
  // a line that gives the number of points, as some files begin
  if (data.length > 1 && /^\d+$/.test(data[0])) data.shift();
  if (data.length < 2) return undefined;
  for (const delimiter of [';', '\t', ',', ' '] as const)
    for (const decimalComma of delimiter === ',' ? [false] : [false, true]) {
      const rows = data.map((l) => splitLine(l, delimiter));
      const header = rows[0].some((c) => !isNumber(c, decimalComma)) ? rows[0] : undefined;
      const sample = header ? rows.slice(1) : rows;
      const columns = sample[0]?.length ?? 0;
      if (columns < 3 || sample.some((r) => r.length !== columns)) continue;
      if (!sample.every((r) => r.every((c) => isNumber(c, decimalComma)))) continue;
      if (header && header.length !== columns) continue;
      const system = lines.map((l) => /^#\s*crs\s*:\s*(\S.*?)\s*$/i.exec(l)?.[1]).find(Boolean);
      return { delimiter, decimalComma, header, sample: sample.slice(0, 12), columns, system };
    }
  return undefined;
}

/** The likely meaning of the columns: by the header's names, else by the usual orders. */
export function guessColumns(layout: TextLayout): PointColumns {
  const { header, columns, sample } = layout;
  if (header) {
    const found: Partial<PointColumns> = {};
    for (const [column, names] of NAMES) {
      const at = header.findIndex((h) => names.test(h.toLowerCase().replace(/^["']|["']$/g, '')));
      if (at >= 0) found[column] = at;
    }
    if (found.x !== undefined && found.y !== undefined && found.z !== undefined) return found as PointColumns;
  }
  const first = sample.map((r) => Number(r[0]));
  // points numbered in front
  if (
    columns >= 4 &&
    sample.length > 2 &&
    first.every((v, i) => Number.isInteger(v) && (i === 0 || v === first[i - 1] + 1))
  )
    return { x: 1, y: 2, z: 3, ...(columns === 5 ? { intensity: 4 } : {}) };
  const guess: PointColumns = { x: 0, y: 1, z: 2 };
  const value = (c: number) => sample.map((r) => Number(layout.decimalComma ? r[c].replace(',', '.') : r[c]));
  const isByte = (c: number) => value(c).every((v) => Number.isInteger(v) && v >= 0 && v <= 255);
  const colour = (from: number) => {
    guess.red = from;
    guess.green = from + 1;
    guess.blue = from + 2;
  };
  if (columns === 4 || columns === 5) guess.intensity = 3;
  else if (columns === 6) {
    if ([3, 4, 5].every(isByte)) colour(3);
  } else if (columns >= 7) {
    if ([4, 5, 6].every(isByte)) {
      guess.intensity = 3;
      colour(4);
    } else if ([3, 4, 5].every(isByte)) {
      colour(3);
      guess.intensity = 6;
    } else guess.intensity = 3;
  }
  return guess;
}
