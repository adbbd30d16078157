import { type MatchPart } from './census';

/** A label is believed when the best other one that is no neighbour of it costs more by this share. */
const CLEAR = 0.02;
/** Both directions agree within so many labels. */
const AGREE = 1;
/** Smaller patches than this stand alone among others and are dropped, pixels; within one labels change by no more than 1. */
const LEAST_PATCH = 80;

/** Labels of a part of a picture. */
export interface Labels {
  /** With their fraction; NaN where there is none that is sure. */
  label: Float32Array;
  /** How steeply costs rise beside the best one, in grades: where the picture shows little they hardly do. */
  grade: Uint8Array;
}

/** Grades of steepness there are; from one to the next costs rise twice as steeply. */
export const GRADES = 6;
/** Costs that rise by less are of the first grade. */
const FIRST_GRADE = 8;

/**
 * Best label of each pixel with its fraction, NaN where it is not clear, the other picture does not agree, or it stands alone.
 * @param sums of {@link aggregate}.
 */
export function labelsOf(sums: Uint16Array, part: MatchPart, inside: Uint8Array): Labels {
  const { columns, rows, labels, shift, secondColumns } = part;
  const out = new Float32Array(columns * rows).fill(Number.NaN);
  const grade = new Uint8Array(columns * rows);
  const back = new Int16Array(secondColumns);
  const backSum = new Uint16Array(secondColumns);
  const own = new Int16Array(columns);
  for (let r = 0; r < rows; r++) {
    back.fill(-1);
    backSum.fill(65535);
    for (let c = 0; c < columns; c++) {
      const k = r * columns + c;
      own[c] = -1;
      if (!inside[k]) continue;
      const at = k * labels;
      let best = 0;
      for (let n = 1; n < labels; n++) if (sums[at + n] < sums[at + best]) best = n;
      own[c] = best;
      for (let n = 0; n < labels; n++) {
        const o = c + shift - n;
        if (o >= 0 && o < secondColumns && sums[at + n] < backSum[o]) {
          backSum[o] = sums[at + n];
          back[o] = n;
        }
      }
    }
    for (let c = 0; c < columns; c++) {
      const best = own[c];
      // at an end of the range the true place may lie beyond it
      if (best < 1 || best > labels - 2) continue;
      const o = c + shift - best;
      if (o < 0 || o >= secondColumns || Math.abs(back[o] - best) > AGREE) continue;
      const at = (r * columns + c) * labels;
      if (!isClear(sums, at, labels, best)) continue;
      const [p, q, s] = [sums[at + best - 1], sums[at + best], sums[at + best + 1]];
      // costs rise like the sides of a wedge from their least (Haller et al. 2010)
      const steep = Math.max(p, s) - q;
      out[r * columns + c] = best + (steep > 0 ? (p - s) / (2 * steep) : 0);
      grade[r * columns + c] =
        steep < FIRST_GRADE ? 0 : Math.min(GRADES - 1, 1 + Math.floor(Math.log2(steep / FIRST_GRADE)));
    }
  }
  dropSmall(out, columns, rows);
  return { label: out, grade };
}

function isClear(sums: Uint16Array, at: number, labels: number, best: number): boolean {
  const limit = sums[at + best] * (1 + CLEAR);
  for (let n = 0; n < labels; n++) if ((n < best - 1 || n > best + 1) && sums[at + n] < limit) return false;
  return true;
}

/** Takes small patches out of a field of labels, in place. */
function dropSmall(field: Float32Array, columns: number, rows: number): void {
  const seen = new Uint8Array(field.length);
  const stack = new Int32Array(field.length);
  const patch = new Int32Array(LEAST_PATCH);
  for (let k = 0; k < field.length; k++) {
    if (seen[k] || field[k] !== field[k]) continue;
    let [top, size] = [0, 0];
    stack[top++] = k;
    seen[k] = 1;
    while (top) {
      const at = stack[--top];
      if (size < LEAST_PATCH) patch[size] = at;
      size++;
      const c = at % columns;
      const visit = (n: number) => {
        if (!seen[n] && Math.abs(field[n] - field[at]) <= 1) {
          seen[n] = 1;
          stack[top++] = n;
        }
      };
      if (c > 0) visit(at - 1);
      if (c + 1 < columns) visit(at + 1);
      if (at >= columns) visit(at - columns);
      if (at + columns < columns * rows) visit(at + columns);
    }
    if (size < LEAST_PATCH) for (let n = 0; n < size; n++) field[patch[n]] = Number.NaN;
  }
}
