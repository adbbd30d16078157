/** Price of a step of one label between neighbours, and of a larger one where the picture is even. */
const STEP = 7;
const JUMP = 40;
/** A jump costs less where grey values change by more: there things end. */
const EVEN_GREY = 12;

/**
 * Semi-global matching (Hirschmüller 2008): the cost of each label of each pixel summed over eight paths through the picture,
 * on each of which steps and jumps between neighbours have their price.
 * @param costs of all labels, pixel by pixel, at most 48. @param grey of the picture. @returns sums in the same order.
 */
export function aggregate(
  costs: Uint8Array,
  grey: Uint8Array,
  columns: number,
  rows: number,
  labels: number,
): Uint16Array {
  const sums = new Uint16Array(costs.length);
  sweep(costs, grey, columns, rows, labels, sums, 1);
  sweep(costs, grey, columns, rows, labels, sums, -1);
  return sums;
}

/** Beyond the first and the last label: dearer than any. */
const NONE = 255;

/**
 * Four of the eight paths: along the row, and from the row before straight and aslant. Costs of a pixel on a path stand
 * between two of {@link NONE}.
 * @param by 1 or −1: from which corner.
 */
function sweep(
  costs: Uint8Array,
  grey: Uint8Array,
  columns: number,
  rows: number,
  labels: number,
  sums: Uint16Array,
  by: 1 | -1,
): void {
  const wide = labels + 2;
  const made = (n: number) => new Uint8Array(n * wide).fill(NONE);
  // of the row before and of this one, for three directions
  const before = [made(columns), made(columns), made(columns)];
  const now = [made(columns), made(columns), made(columns)];
  const beforeLeast = [0, 1, 2].map(() => new Uint8Array(columns));
  const nowLeast = [0, 1, 2].map(() => new Uint8Array(columns));
  const along = [made(1), made(1)];
  for (let i = 0; i < rows; i++) {
    const r = by > 0 ? i : rows - 1 - i;
    let least = 0;
    for (let j = 0; j < columns; j++) {
      const c = by > 0 ? j : columns - 1 - j;
      const k = r * columns + c;
      const at = k * labels;
      const own = grey[k];
      const to = along[j & 1];
      least =
        j === 0
          ? begin(costs, sums, at, labels, to, 1)
          : goOn(costs, sums, at, labels, along[(j + 1) & 1], 1, least, to, 1, jumpOf(own, grey[k - by]));
      for (let d = 0; d < 3; d++) {
        const other = c + d - 1;
        const t = c * wide + 1;
        nowLeast[d][c] =
          i === 0 || other < 0 || other >= columns
            ? begin(costs, sums, at, labels, now[d], t)
            : goOn(
                costs,
                sums,
                at,
                labels,
                before[d],
                other * wide + 1,
                beforeLeast[d][other],
                now[d],
                t,
                jumpOf(own, grey[k - by * columns + d - 1]),
              );
      }
    }
    for (let d = 0; d < 3; d++) {
      const [rowBefore, leastBefore] = [before[d], beforeLeast[d]];
      before[d] = now[d];
      beforeLeast[d] = nowLeast[d];
      now[d] = rowBefore;
      nowLeast[d] = leastBefore;
    }
  }
}

function jumpOf(a: number, b: number): number {
  const change = a > b ? a - b : b - a;
  return change > EVEN_GREY ? Math.max(STEP + 1, Math.floor((JUMP * EVEN_GREY) / change)) : JUMP;
}

/** The first pixel of a path: its own costs. @returns the least of them. */
function begin(costs: Uint8Array, sums: Uint16Array, at: number, labels: number, to: Uint8Array, t: number): number {
  let least = NONE;
  for (let n = 0; n < labels; n++) {
    const v = costs[at + n];
    to[t + n] = v;
    sums[at + n] += v;
    if (v < least) least = v;
  }
  return least;
}

/**
 * One step of a path, for all labels. The least of four is found without branches: costs of pictures make a processor guess
 * wrong half of the time.
 * @returns the least of what was written.
 */
function goOn(
  costs: Uint8Array,
  sums: Uint16Array,
  at: number,
  labels: number,
  from: Uint8Array,
  f: number,
  fromLeast: number,
  to: Uint8Array,
  t: number,
  jump: number,
): number {
  let least = NONE;
  const far = fromLeast + jump;
  let left = NONE;
  let own = from[f];
  for (let n = 0; n < labels; n++) {
    const right = from[f + n + 1];
    const x = left - right;
    const beside = right + (x & (x >> 31)) + STEP;
    const y = beside - own;
    const near = own + (y & (y >> 31));
    const z = near - far;
    const v = costs[at + n] + far + (z & (z >> 31)) - fromLeast;
    to[t + n] = v;
    sums[at + n] += v;
    const w = v - least;
    least += w & (w >> 31);
    left = own;
    own = right;
  }
  return least;
}
