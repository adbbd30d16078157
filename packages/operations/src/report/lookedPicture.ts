import { lookedAt, type CloudCell, type Looked } from '@longheron/core/cloud';
import { type Account } from '../shared/pages';
import { gridPicture } from '../shared/pictures';
import { type Store } from '../shared/store';
import { cloudOf, lookCells } from '../shared/stored';

/** Never looked at, in a section, close, changed. */
const LOOK_COLOURS = {
  never: [201, 130, 110],
  section: [146, 176, 209],
  close: [63, 115, 80],
  changed: [21, 38, 44],
};

/** The looked-at map of a cloud with its picture, for the report. */
export async function lookedPicture(
  store: Store,
  { edited, looks }: NonNullable<Account['looked']>,
): Promise<{ looked: Looked; picture: Buffer }> {
  const looked = lookedAt(await lookCells(await cloudOf(store, edited)), looks);
  return { looked, picture: await lookPicture(looked) };
}

/** Three pixels a cell: what was changed is a mark in its middle. */
function lookPicture({ cells }: Looked): Promise<Buffer> {
  const reach = (of: (c: CloudCell) => number) => [Math.min(...cells.map(of)), Math.max(...cells.map(of))];
  const [[x0, x1], [y0, y1]] = [reach((c) => c.x), reach((c) => c.y)];
  const [columns, rows] = [x1 - x0 + 1, y1 - y0 + 1];
  const at = new Map(cells.map((c) => [(y1 - c.y) * columns + c.x - x0, c]));
  return gridPicture({ columns: 3 * columns, rows: 3 * rows }, true, (k) => {
    const [row, column] = [Math.floor(k / (3 * columns)), k % (3 * columns)];
    const c = at.get(Math.floor(row / 3) * columns + Math.floor(column / 3));
    if (!c) return undefined;
    if (c.changed && row % 3 === 1 && column % 3 === 1) return LOOK_COLOURS.changed;
    return c.closeS ? LOOK_COLOURS.close : c.sectionS ? LOOK_COLOURS.section : LOOK_COLOURS.never;
  });
}
