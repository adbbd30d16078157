/** Classes in the order of a stored cloud: what changes when it is classified. @param order row in the source of each stored point. */
export function packClasses(classification: Uint8Array, order: Uint32Array): Uint8Array {
  const out = new Uint8Array(order.length);
  for (let k = 0; k < order.length; k++) out[k] = classification[order[k]];
  return out;
}
