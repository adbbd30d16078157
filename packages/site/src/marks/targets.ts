import { groundAt, roadCentreX } from '../terrain';

export interface TrueMark {
  name: string;
  role: 'control' | 'check';
  x: number;
  y: number;
  heightM: number;
  cover: 'hard' | 'grass' | 'far';
}

const CONTROL_Y: Array<[number, number]> = [
  [52, 4.5],
  [128, -4.4],
  [205, 4.3],
  [300, -4.5],
  [356, 4.4],
  [432, -4.4],
  [512, 4.5],
  [592, -4.3],
];
const CHECK_HARD_Y: Array<[number, number]> = [
  [72, -4.4],
  [150, 4.4],
  [228, -1.4],
  [292, 4.5],
  [316, 1.2],
  [344, -4.4],
  [368, -4.5],
  [478, 4.4],
  [556, -1.6],
];
const CHECK_GRASS_Y: Array<[number, number]> = [
  [182, 8.2],
  [310, -8.4],
  [405, -8],
];
const CHECK_FAR: Array<[number, number]> = [
  [262, 120],
  [258, 520],
];

/** Offset of the disturbed control mark's given height. */
export const DISTURBED_MARK = 'C5';
export const DISTURBANCE_M = 0.11;

let made: TrueMark[] | undefined;

/** 8 control and 14 check marks; the same at every call. */
export function trueMarks(): TrueMark[] {
  if (made) return made;
  const out: TrueMark[] = [];
  const put = (name: string, role: TrueMark['role'], x: number, y: number, cover: TrueMark['cover']) =>
    out.push({ name, role, x, y, heightM: groundAt(x, y), cover });
  CONTROL_Y.forEach(([y, u], i) => put(`C${i + 1}`, 'control', roadCentreX(y) + u, y, 'hard'));
  let k = 1;
  for (const [y, u] of CHECK_HARD_Y) put(`K${k++}`, 'check', roadCentreX(y) + u, y, 'hard');
  for (const [y, u] of CHECK_GRASS_Y) put(`K${k++}`, 'check', roadCentreX(y) + u, y, 'grass');
  for (const [x, y] of CHECK_FAR) put(`K${k++}`, 'check', x, y, 'far');
  made = out;
  return out;
}

/** Reflectance of a painted target (0.6 m, four quarters, two tones) at a place; undefined off the targets. */
export function targetBrightness(x: number, y: number): number | undefined {
  for (const m of trueMarks()) {
    const dx = x - m.x,
      dy = y - m.y;
    if (Math.abs(dx) < 0.3 && Math.abs(dy) < 0.3) return dx >= 0 === dy >= 0 ? 0.9 : 0.06;
  }
  return undefined;
}
