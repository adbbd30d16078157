/** Bytes of a value by the type of its tag, TIFF 6.0; 16 is a whole number of eight bytes. */
export const TAG_BYTES: Record<number, number> = {
  1: 1,
  2: 1,
  3: 2,
  4: 4,
  5: 8,
  6: 1,
  7: 1,
  8: 2,
  9: 4,
  10: 8,
  11: 4,
  12: 8,
  16: 8,
};

/** A value of a tag. */
export function tagNumber(view: DataView, at: number, type: number, little: boolean): number {
  if (type === 3) return view.getUint16(at, little);
  if (type === 4) return view.getUint32(at, little);
  if (type === 5) return view.getUint32(at, little) / view.getUint32(at + 4, little);
  if (type === 8) return view.getInt16(at, little);
  if (type === 9) return view.getInt32(at, little);
  if (type === 11) return view.getFloat32(at, little);
  if (type === 12) return view.getFloat64(at, little);
  if (type === 16) return Number(view.getBigUint64(at, little));
  return view.getUint8(at);
}

/** Keys of GeoTIFF whose values stand in the directory itself. */
export function geoKeys(list: number[] | undefined): Map<number, number> {
  const out = new Map<number, number>();
  if (list) for (let k = 4; k + 3 < list.length; k += 4) if (list[k + 1] === 0) out.set(list[k], list[k + 3]);
  return out;
}
