/** Powers of ten that a double holds exactly. */
const POWERS = Float64Array.from({ length: 23 }, (_, i) => Number(`1e${i}`));
const MAX_EXACT = 2 ** 53;

/**
 * The number written at characters [from, to) of a text, as `Number` would read them; NaN when they are no number.
 * Plain decimals of up to 2^53 without their point are read digit by digit, which is exact: one division of two exact
 * doubles is correctly rounded (Clinger 1990, "How to read floating point numbers accurately"). The rest is left to
 * `Number`, spaces and exponents among it.
 */
export function readDecimal(text: string, from: number, to: number): number {
  let i = from;
  let c = text.charCodeAt(i);
  const negative = c === 45;
  if (negative || c === 43) c = text.charCodeAt(++i);
  let digits = 0;
  let value = 0;
  let point = -1;
  for (; i < to; c = text.charCodeAt(++i)) {
    if (c >= 48 && c <= 57) {
      value = value * 10 + (c - 48);
      digits++;
    } else if (c === 46 && point < 0) point = i;
    else return whole(text, from, to);
  }
  const decimals = point < 0 ? 0 : to - point - 1;
  if (digits === 0 || value > MAX_EXACT || decimals > 22) return whole(text, from, to);
  const size = value / POWERS[decimals];
  return negative ? -size : size;
}

function whole(text: string, from: number, to: number): number {
  const cell = text.slice(from, to);
  // numbers of programs, such as 0x10, are none of a table
  return cell.trim() === '' || /^\s*0[xob]/i.test(cell) ? Number.NaN : Number(cell);
}
