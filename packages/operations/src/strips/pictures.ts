import { DIFFERENCE_COLOURS } from '@longheron/contract/kinds/adjustment';
import { type GridLayout } from '@longheron/contract/declare';
import { quantile } from '@longheron/core/numeric';
import { type Adjustment, type Differences } from '@longheron/core/laser';
import { gridPicture, onScale } from '../shared/pictures';

const SIZES = DIFFERENCE_COLOURS.map((hex) => [1, 3, 5].map((at) => Number.parseInt(hex.slice(at, at + 2), 16)));
/** Largest number of cells of a picture along a side. */
const MOST_CELLS = 1500;
const LEAST_LIMIT_M = 0.02;

export interface Maps {
  before: Buffer;
  after: Buffer;
  layout: GridLayout;
  limitM: number;
}

/** Largest difference of any pair by place, before and after, on one scale that ends where 95 % of those before lie. */
export async function mapsOf(a: Adjustment): Promise<Maps | undefined> {
  const d = a.before.differences;
  if (!d.count) return undefined;
  let [west, east, south, north] = [Infinity, -Infinity, Infinity, -Infinity];
  for (let i = 0; i < d.count; i++) {
    west = Math.min(west, d.eastingM[i]);
    east = Math.max(east, d.eastingM[i]);
    south = Math.min(south, d.northingM[i]);
    north = Math.max(north, d.northingM[i]);
  }
  const cellM = a.cellM * Math.max(1, Math.ceil(Math.max(east - west, north - south) / a.cellM / MOST_CELLS));
  const snap = (v: number, origin: number) => origin + Math.floor((v - origin) / cellM) * cellM;
  const westM = snap(west, a.originE);
  const southM = snap(south, a.originN);
  const columns = Math.floor((east - westM) / cellM) + 1;
  const rows = Math.floor((north - southM) / cellM) + 1;
  const limitM = limitOf(d);
  const draw = (differences: Differences) => {
    const worst = worstByCell(differences, westM, southM, cellM, columns, rows);
    return gridPicture({ columns, rows }, false, (k) => (worst[k] < 0 ? undefined : onScale(SIZES, worst[k] / limitM)));
  };
  const layout = { cellM, columns, rows, westM, northM: southM + rows * cellM };
  return { before: await draw(d), after: await draw(a.after.differences), layout, limitM };
}

function limitOf(d: Differences): number {
  const size = Array.from(d.differenceM.subarray(0, d.count), Math.abs);
  return Math.max(LEAST_LIMIT_M, Math.round(200 * quantile(size, 0.95)) / 200);
}

function worstByCell(d: Differences, westM: number, southM: number, cellM: number, columns: number, rows: number) {
  const out = new Float32Array(columns * rows).fill(-1);
  for (let i = 0; i < d.count; i++) {
    const c = Math.floor((d.eastingM[i] - westM) / cellM);
    const r = Math.floor((d.northingM[i] - southM) / cellM);
    if (c < 0 || r < 0 || c >= columns || r >= rows) continue;
    out[r * columns + c] = Math.max(out[r * columns + c], Math.abs(d.differenceM[i]));
  }
  return out;
}
