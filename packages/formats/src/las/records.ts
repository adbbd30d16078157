/** Writes a text of at most `length` bytes into a header. */
export function putText(out: Uint8Array, at: number, text: string, length: number): void {
  out.set(new TextEncoder().encode(text).subarray(0, length), at);
}

/** A variable length record. */
export function vlr(userId: string, recordId: number, description: string, data: Uint8Array): Uint8Array {
  const out = new Uint8Array(54 + data.length);
  const view = new DataView(out.buffer);
  putText(out, 2, userId, 16);
  view.setUint16(18, recordId, true);
  view.setUint16(20, data.length, true);
  putText(out, 22, description, 32);
  out.set(data, 54);
  return out;
}
