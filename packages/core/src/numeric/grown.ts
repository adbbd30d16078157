/** A copy with room for more. */
export function moreInts(old: Int32Array, length = 2 * old.length): Int32Array<ArrayBuffer> {
  const out = new Int32Array(length);
  out.set(old);
  return out;
}

/** A copy with room for more. */
export function moreFloats(old: Float64Array, length = 2 * old.length): Float64Array<ArrayBuffer> {
  const out = new Float64Array(length);
  out.set(old);
  return out;
}
