/** Contexts by number of returns (row) and number of the return (column), of the open LAZ specification. */
const rows = (text: string) => Uint8Array.from(text.split(/\s+/).join(''), (c) => parseInt(c, 16));

/** Pointwise formats: 8 by 8. */
export const RETURN_MAP_8 = rows('fedcba98 e0136aa9 d1247bba c3458ccb b6789ddc aabcdeed 9abcdefe 89abcdef');

/** Layered formats, six contexts: 16 by 16. */
export const RETURN_MAP_16 = rows(`
  0123453445555555 1013333333333333 2124444444433333 3345444444444444
  4344544444444444 5344454444444444 3344445444444444 4344444544444444
  4344444454444444 5344444445444444 5344444444544444 5334444444455444
  5334444444455544 5334444444445554 5334444444444555 5334444444444455`);

/** How far the return is from the last one, at most 7. */
export const returnLevel = (count: number, number: number) => Math.min(7, Math.abs(count - number));
