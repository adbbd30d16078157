import { parse } from 'csv-parse/sync';
import { Problem } from '@longheron/core/shared';
import { imageKey } from '@longheron/core/photo';
import { csvCell, decodeText } from '../csv';

export { imageKey };

/** Where a point is seen in a photograph. */
export interface Pick {
  image: string;
  point: string;
  /** Pixel (0, 0) is the centre of the upper left pixel, x to the right, y down. */
  xPx: number;
  yPx: number;
  /** 1 SD of x and of y; undefined where the list does not say. */
  sdPx?: number;
}

const COLUMNS = ['image', 'point', 'x_px', 'y_px'] as const;
const MOST_PX = 200_000;

/** Reads picks, docs/formats/picks.md. @throws Problem that names line and column. */
export function readPicks(bytes: Uint8Array, file: string): Pick[] {
  const wrong = (text: string, place: string, remedy = 'Correct the line.') =>
    new Problem(text, { code: 'picks', file, place, remedy });
  let table: Array<{ record: string[]; info: { lines: number } }>;
  try {
    table = parse(decodeText(bytes, file), {
      comment: '#',
      comment_no_infix: true,
      skip_empty_lines: true,
      trim: true,
      relax_column_count: true,
      info: true,
    }) as unknown as typeof table;
  } catch (error) {
    throw wrong(`The table cannot be read: ${(error as Error).message}.`, 'text', 'Check quotes and separators.');
  }
  const header = table[0]?.record ?? [];
  const at = (name: string) => header.indexOf(name);
  for (const name of COLUMNS)
    if (at(name) < 0)
      throw wrong(
        `The column ${name} is missing.`,
        'header line',
        `A list of picks has the columns ${COLUMNS.join(', ')} and perhaps sd_px.`,
      );
  const seen = new Map<string, number>();
  return table.slice(1).map(({ record, info }) => {
    const cell = (name: string) => (at(name) < 0 ? '' : (record[at(name)] ?? ''));
    const place = (name: string) => `line ${info.lines}, column ${name}`;
    const number = (name: string) => {
      const value = cell(name) === '' ? Number.NaN : Number(cell(name));
      if (!Number.isFinite(value) || Math.abs(value) > MOST_PX)
        throw wrong(`${name} is "${cell(name)}": no place in a photograph.`, place(name));
      return value;
    };
    const [image, point] = [cell('image'), cell('point')];
    if (!image) throw wrong('A pick needs the name of its photograph.', place('image'));
    if (!point) throw wrong('A pick needs the name of its point.', place('point'));
    const key = `${imageKey(image)} ${point}`;
    const before = seen.get(key);
    if (before !== undefined)
      throw wrong(
        `${point} is picked in ${image} a second time; the first is in line ${before}.`,
        place('point'),
        'Keep one of both: a point is in one place of a photograph.',
      );
    seen.set(key, info.lines);
    const sd = cell('sd_px') === '' ? undefined : number('sd_px');
    if (sd !== undefined && !(sd > 0))
      throw wrong(`sd_px is "${cell('sd_px')}": a deviation is above zero.`, place('sd_px'));
    return { image, point, xPx: number('x_px'), yPx: number('y_px'), ...(sd === undefined ? {} : { sdPx: sd }) };
  });
}

/** Picks in the layout of docs/formats/picks.md. */
export function picksCsv(picks: readonly Pick[]): string {
  const rows = picks.map(
    ({ image, point, xPx, yPx, sdPx }) =>
      `${csvCell(image)},${csvCell(point)},${xPx.toFixed(3)},${yPx.toFixed(3)},${sdPx === undefined ? '' : sdPx.toFixed(3)}\n`,
  );
  return `image,point,x_px,y_px,sd_px\n${rows.join('')}`;
}
