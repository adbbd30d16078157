import { Problem, type Watch } from '@longheron/core/shared';
import { openFile, type ByteSource } from '../bytes';
import { allocateBatch, to16, type PointBatch, type PointSource } from '../points';
import { guessColumns, layoutOf, splitLine, type PointColumn, type PointColumns, type TextLayout } from './columns';
import { linesOf } from './lines';

const LOOK_BYTES = 1 << 16;
const BATCH = 1 << 15;

/** The layout of a text of points; undefined when it is none. */
export async function lookAtText(source: ByteSource): Promise<TextLayout | undefined> {
  const bytes = await source.read(0, Math.min(source.size, LOOK_BYTES));
  if (bytes.includes(0)) return undefined;
  const lines = new TextDecoder('utf-8')
    .decode(bytes)
    .replace(/^\uFEFF/, '')
    .split(/\r\n|\n|\r/);
  // the last line may be cut off by the look
  if (source.size > LOOK_BYTES) lines.pop();
  return layoutOf(lines);
}

/**
 * Opens a text of points, one to a line, parted by blanks, tabs, commas or semicolons; lines with # are comments.
 * @param chosen what the columns hold, else as guessed.
 */
export async function openXyz(path: string, name?: string, chosen?: PointColumns): Promise<PointSource> {
  const source = await openFile(path, name);
  try {
    const layout = await lookAtText(source);
    if (!layout)
      throw new Problem('The text has no lines of three or more numbers.', {
        code: 'xyz-layout',
        file: source.name,
        place: 'line 1',
        remedy: 'Write a point to a line: easting, northing, height, then what else there is.',
      });
    const columns = Object.fromEntries(
      Object.entries(chosen ?? guessColumns(layout)).filter(([, at]) => at !== undefined),
    ) as unknown as PointColumns;
    for (const [what, at] of Object.entries(columns) as [string, number][])
      if (!(at >= 0 && at < layout.columns))
        throw new Problem(`Column ${at + 1} for ${what} does not exist.`, {
          code: 'xyz-columns',
          file: source.name,
          remedy: `Choose one of the ${layout.columns} columns.`,
        });
    return xyzSource(source, layout, columns);
  } catch (error) {
    await source.close();
    throw error;
  }
}

function xyzSource(source: ByteSource, layout: TextLayout, columns: PointColumns): PointSource {
  const has = (c: PointColumn) => columns[c] !== undefined;
  const used = new Set(Object.values(columns));
  const left = Array.from({ length: layout.columns }, (_, k) => k).filter((k) => !used.has(k));
  const fields = {
    intensity: has('intensity'),
    colour: has('red') && has('green') && has('blue'),
    classification: has('classification'),
    returns: has('returnNumber') && has('returnCount'),
    time: has('time'),
    source: has('source'),
  };
  const name = (k: number) => (layout.header ? `"${layout.header[k]}"` : `column ${k + 1}`);
  return {
    name: source.name,
    fields,
    system: layout.system,
    lost: left.map(name),
    details: [
      [
        'Columns',
        Object.entries(columns)
          .map(([c, k]) => `${c} ${Number(k) + 1}`)
          .join(', '),
      ],
    ],
    batches: (watch) => batches(source, layout, columns, fields, watch),
    close: () => source.close(),
  };
}

async function* batches(
  source: ByteSource,
  layout: TextLayout,
  c: PointColumns,
  fields: PointSource['fields'],
  watch?: Watch,
): AsyncGenerator<PointBatch> {
  let batch = allocateBatch(BATCH, fields);
  let i = 0;
  let headerPassed = !layout.header;
  let words: string[] = [];
  const number = layout.decimalComma
    ? (k: number) => Number(words[k].replace(',', '.'))
    : (k: number) => Number(words[k]);
  const tops = await topValues(source, layout, c);
  for await (const { line, number: at } of linesOf(source, 0, watch)) {
    if (!line || line.startsWith('#') || line.startsWith('//')) continue;
    if (!headerPassed) {
      headerPassed = true;
      continue;
    }
    words = splitLine(line, layout.delimiter);
    if (at <= 2 && words.length === 1 && /^\d+$/.test(line)) continue;
    const [x, y, z] = words.length >= layout.columns ? [number(c.x), number(c.y), number(c.z)] : [NaN, NaN, NaN];
    if (!Number.isFinite(x + y + z) || words[c.x] === '' || words[c.y] === '' || words[c.z] === '')
      throw new Problem(`"${line.slice(0, 60)}" is no point of ${layout.columns} columns.`, {
        code: 'xyz-line',
        file: source.name,
        place: `line ${at}`,
        remedy: 'Repair or take out the line, or put # before it.',
      });
    batch.x[i] = x;
    batch.y[i] = y;
    batch.z[i] = z;
    if (batch.intensity) batch.intensity[i] = to16(number(c.intensity!), tops.intensity);
    if (batch.colour) {
      batch.colour[0][i] = to16(number(c.red!), tops.colour);
      batch.colour[1][i] = to16(number(c.green!), tops.colour);
      batch.colour[2][i] = to16(number(c.blue!), tops.colour);
    }
    if (batch.classification) batch.classification[i] = number(c.classification!);
    if (batch.returnNumber) batch.returnNumber[i] = number(c.returnNumber!);
    if (batch.returnCount) batch.returnCount[i] = number(c.returnCount!);
    if (batch.time) batch.time[i] = number(c.time!);
    if (batch.source) batch.source[i] = number(c.source!);
    if (++i === BATCH) {
      yield batch;
      batch = allocateBatch(BATCH, fields);
      i = 0;
    }
  }
  if (i > 0) yield firstOf(batch, i);
}

function firstOf(batch: PointBatch, count: number): PointBatch {
  const cut = <T extends Float64Array | Uint16Array | Uint8Array>(a: T | undefined) => a?.subarray(0, count) as T;
  return {
    count,
    x: cut(batch.x),
    y: cut(batch.y),
    z: cut(batch.z),
    intensity: cut(batch.intensity),
    colour: batch.colour?.map(cut) as PointBatch['colour'],
    classification: cut(batch.classification),
    returnNumber: cut(batch.returnNumber),
    returnCount: cut(batch.returnCount),
    time: cut(batch.time),
    source: cut(batch.source),
  };
}

/**
 * What counts as full: 1, 255, 4095 or 65535, the least that no value of the first 100 000 lines exceeds. Text says nothing
 * of it; brighter values later on are held at full.
 */
async function topValues(
  source: ByteSource,
  layout: TextLayout,
  c: PointColumns,
): Promise<{ intensity: number; colour: number }> {
  // columns named as LAS names them hold what LAS holds
  if (layout.header?.includes('point_source_id')) return { intensity: 65535, colour: 65535 };
  let intensity = 0;
  let colour = 0;
  let seen = 0;
  const value = (text: string) => Number(layout.decimalComma ? text.replace(',', '.') : text);
  for await (const { line } of linesOf(source)) {
    if (!line || line.startsWith('#')) continue;
    const words = splitLine(line, layout.delimiter);
    if (words.length < layout.columns) continue;
    if (c.intensity !== undefined) intensity = Math.max(intensity, value(words[c.intensity]) || 0);
    for (const k of [c.red, c.green, c.blue]) if (k !== undefined) colour = Math.max(colour, value(words[k]) || 0);
    if (++seen > 100_000) break;
  }
  const top = (most: number, steps: number[]) => steps.find((s) => most <= s) ?? 65535;
  return { intensity: top(intensity, [1, 255, 4095]), colour: top(colour, [1, 255]) };
}
